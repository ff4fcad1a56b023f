import { randomUUID } from 'node:crypto';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { stampOf } from '@pocket-twin/media/disk/fileStamp.ts';
import { action, type ActionContext } from '../platform/action.ts';
import { ClipRow } from './clip.ts';
import type { FoundFile } from '../mediaFolders/mediaFolders.ts';

interface LinkContext extends ActionContext {
  largestBytes: number;
}

const ROWS_AT_ONCE = 500;

/** Makes files clips of a project where they lie. Those that are in the project already are passed over. @returns how many came */
export async function linkIn(context: LinkContext, projectId: string, files: FoundFile[]): Promise<number> {
  const known = new Set(
    (await ClipRow.findAll({ where: { projectId, linked: true }, attributes: ['sourcePath'] })).map(
      ({ sourcePath }) => sourcePath,
    ),
  );
  const fresh = files.filter(({ path }) => !known.has(path));
  for (let at = 0; at < fresh.length; at += ROWS_AT_ONCE) {
    const rows = await Promise.all(
      fresh.slice(at, at + ROWS_AT_ONCE).map(async ({ path, name, folder }) => {
        const { bytes, modifiedMs } = await stampOf(path);
        const tooLarge = bytes > context.largestBytes;
        return {
          id: randomUUID(),
          projectId,
          fileName: name,
          folder,
          bytes,
          sourcePath: path,
          linked: true,
          sourceModifiedMs: modifiedMs,
          state: tooLarge ? ('failed' as const) : ('waiting' as const),
          error: tooLarge ? `${name} is larger than this server takes. Bring in a shorter file.` : null,
        };
      }),
    );
    await action(context, async ({ transaction, send, tell }) => {
      await ClipRow.bulkCreate(rows, { transaction });
      await send('inspect', ...rows.filter(({ state }) => state === 'waiting').map(({ id }) => ({ clipId: id })));
      await tell({ kind: 'lineup', projectId });
    });
  }
  return fresh.length;
}

/** Points a linked clip to where its file lies now. The same content keeps its measurement; another is measured again. */
export async function linkAgain(context: ActionContext, clip: ClipRow, file: FoundFile): Promise<void> {
  const { bytes, modifiedMs } = await stampOf(file.path);
  const place = {
    sourcePath: file.path,
    folder: file.folder,
    bytes,
    sourceModifiedMs: modifiedMs,
    sourceState: 'here' as const,
  };
  const unchanged =
    clip.state === 'ready' &&
    clip.bytes === bytes &&
    clip.sourceModifiedMs === modifiedMs &&
    clip.fileName === file.name;
  // A WAV is its own working copy: its words are read from the new place.
  const change = unchanged
    ? { ...place, pcm: clip.pcm && clip.pcm.path === clip.sourcePath ? { ...clip.pcm, path: file.path } : clip.pcm }
    : place;
  await measureAgain(context, clip, change, !unchanged);
}

/** Has a clip measured once more, with a change to its row in the same step. @param needed false: the change alone */
export async function measureAgain(
  context: ActionContext,
  clip: ClipRow,
  change: Partial<ClipRow> = {},
  needed = true,
): Promise<void> {
  await action(context, async ({ transaction, send, tell }) => {
    const row = await ClipRow.findByPk(clip.id, { transaction, lock: transaction.LOCK.UPDATE });
    if (!row) throw new Refusal('not-found', 'That clip is no longer in the project.');
    const isQueued = row.state === 'waiting';
    await row.update({ ...change, ...(needed && { state: 'waiting' as const, error: null }) }, { transaction });
    // A job that waits will measure the file as it is then; one that has begun measures what it was.
    if (needed && !isQueued) await send('inspect', { clipId: clip.id });
    await tell({ kind: 'clip', id: clip.id });
  });
}
