import { summarise } from '@pocket-twin/core/lineup/summarise.ts';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { FileStamp, InspectJob } from '@pocket-twin/core/contract/jobs.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { isSameFile, stampOf } from '@pocket-twin/media/disk/fileStamp.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { action, type ActionContext } from '../platform/action.ts';
import { announce } from '../platform/changes.ts';
import { writeJoined } from '../joins/writeJoined.ts';
import { ClipRow } from './clip.ts';
import { inBackground } from '../platform/inBackground.ts';
import type { Logger } from '../platform/log.ts';
import type { Leave } from '../platform/queue/queue.ts';
import type { Folders } from '../platform/home/folders.ts';

interface InspectContext extends ActionContext {
  folders: Folders;
  log: Logger;
}

/**
 * Measures a clip and keeps what was found; a file that can't be read gets its sentence instead. Done twice, or for a clip that was taken out
 * of its project meanwhile, it does no harm: nothing is ever deleted here.
 */
export async function inspectClip(context: InspectContext, { clipId }: InspectJob, leave: Leave): Promise<void> {
  const { sequelize, folders, log } = context;
  const clip = await action(context, async ({ transaction, tell }) => {
    const where = { id: clipId, removedAt: null, state: ['waiting', 'reading'] };
    const [, rows] = await ClipRow.unscoped().update(
      { state: 'reading', error: null },
      { where, returning: true, transaction },
    );
    // Taken out while it waited (whoever puts it back finds it without a job), or measured already by whoever had this job before.
    if (rows.length === 0) {
      await leave(transaction);
      return null;
    }
    await tell({ kind: 'clip', id: clipId });
    return rows[0];
  });
  if (clip === null) return;
  // Only what this job began with: pointed to another file or to be measured again, the clip has a job of its own for that.
  const keep = (change: Partial<ClipRow>): Promise<void> =>
    action(context, async ({ transaction, tell, sendSoon }) => {
      const where = { id: clipId, sourcePath: clip.sourcePath, state: 'reading' };
      await ClipRow.unscoped().update(change, { where, transaction });
      await tell({ kind: 'clip', id: clipId });
      await sendSoon('setups', { projectId: clip.projectId }, clip.projectId);
      await leave(transaction);
    });
  const onProgress = (progress: Progress): void =>
    inBackground(log, 'Telling how far a clip is', announce(sequelize, { kind: 'progress', id: clipId, ...progress }));
  try {
    const bytes = clip.joinedFrom ? await writeJoined(clip, onProgress) : clip.bytes;
    const stamp = clip.linked ? await stampOf(clip.sourcePath) : null;
    const { inspection, facts, pcm, sketch, hasStill, hash } = await inThread(
      'inspect',
      {
        path: clip.sourcePath,
        bytes,
        outlineFolder: folders.outline(clipId),
        workingCopy: folders.workingCopy(clipId),
        stillPath: folders.still(clipId),
        sumsPath: folders.sums(clipId),
      },
      { onProgress },
    );
    await keep({
      state: 'ready',
      bytes,
      inspection,
      facts,
      pcm,
      sketch,
      hasStill,
      contentHash: hash,
      sourceState: 'here',
      summary: summarise(inspection, sketch),
      ...(stamp && (await measuredAs(clip, stamp))),
    });
  } catch (error) {
    if (!(error instanceof Refusal) || error.code === 'interrupted') throw error;
    await keep({ state: 'failed', error: error.message, inspection: null, summary: null, pcm: null, sketch: null });
  }
}

/** What a linked file was while it was measured. @throws Refusal, to be tried again, where it changed meanwhile */
async function measuredAs(clip: ClipRow, before: FileStamp): Promise<Pick<ClipRow, 'bytes' | 'sourceModifiedMs'>> {
  const after = await stampOf(clip.sourcePath);
  if (!isSameFile(before, after)) {
    throw new Refusal(
      'interrupted',
      `${clip.fileName} is still being written to. Measure it again when it is all there.`,
    );
  }
  return { bytes: after.bytes, sourceModifiedMs: after.modifiedMs };
}

/** After the last try: the person is told, the details are in the log. */
export async function giveUpInspecting(context: ActionContext, { clipId }: InspectJob, error: unknown): Promise<void> {
  const clip = await ClipRow.findByPk(clipId);
  if (!clip) return;
  const sentence =
    error instanceof Refusal
      ? error.message
      : error === null
        ? `Measuring ${clip.fileName} has ended the program many times. Export it again from where it was made, or try once more.`
        : `${clip.fileName} could not be measured; the log says why. Try again, or export it anew.`;
  await action(context, async ({ transaction, tell }) => {
    await clip.update({ state: 'failed', error: sentence }, { transaction });
    await tell({ kind: 'clip', id: clipId });
  });
}
