import { readdir, rm, rmdir } from 'node:fs/promises';
import { join } from 'node:path';
import { receiptLine } from '@pocket-twin/core/handoff/receiptLine.ts';
import type { EditLinked } from '@pocket-twin/core/schema/handoff.ts';
import type { HandoffEndJob } from '@pocket-twin/core/contract/jobs.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { completeFolder, RECEIPTS, type CompletedEntry } from '@pocket-twin/media/handoff/completeFolder.ts';
import type { LinkedClip } from '@pocket-twin/media/handoff/editFile.ts';
import { EditRow } from '../edits/edit.ts';
import { matchedEdit } from '../edits/useOfClips.ts';
import { action, type ActionContext, type Step } from '../platform/action.ts';
import { nobodyIsAt } from '../platform/queue/openRows.ts';
import { HandoffRow } from './handoff.ts';
import { HandoffFileRow } from './handoffFile.ts';
import { scratchOf } from './scratchOf.ts';

/** Has a handoff ended once none of its files is on its way any more. To be asked under a lock of its row. */
export async function endIfOver(handoff: HandoffRow, { transaction, send, sequelize, tell }: Step): Promise<void> {
  if (handoff.state !== 'running' && handoff.state !== 'finishing') return;
  const open = await HandoffFileRow.count({
    where: { handoffId: handoff.id, state: ['waiting', 'writing'] },
    transaction,
  });
  if (open > 0) return;
  await handoff.update({ state: 'finishing' }, { transaction });
  const [{ free }] = (
    await sequelize.query(`select ${nobodyIsAt('handoffEnd', 'handoffId', ':id')} as free`, {
      replacements: { id: handoff.id },
      transaction,
    })
  )[0] as { free: boolean }[];
  if (free) await send('handoffEnd', { handoffId: handoff.id });
  await tell({ kind: 'handoff', id: handoff.id });
}

/** Receipts, the page to read, the edit and the checksums; what is not there any more is left behind by nobody. */
export async function endHandoff(context: ActionContext, { handoffId }: HandoffEndJob): Promise<void> {
  const handoff = await HandoffRow.findByPk(handoffId);
  if (handoff?.state !== 'finishing') return;
  const files = await HandoffFileRow.scope('withResult').findAll({
    where: { handoffId },
    order: [['position', 'ASC']],
  });
  const folder = handoff.folder!;
  await removeScratch(folder, files);
  const entries = files.map(entryOf);
  let linked: (EditLinked & { text: string }) | null = null;
  if (entries.some(({ line }) => line !== null)) {
    linked = await linkedEdit(context, handoff, files);
    await completeFolder({
      ...{ folder, title: `Handoff: ${handoff.name}`, createdAt: new Date().toISOString(), entries },
      edit: linked && { name: linked.name, text: linked.text },
      known: new Map(
        files.flatMap(({ result }) => result?.files.map(({ path, checksums }) => [path, checksums] as const) ?? []),
      ),
    });
  } else await removeIfEmpty(folder);
  await action(context, async ({ transaction, tell }) => {
    await handoff.update(
      {
        state: files.some(({ state }) => state === 'cancelled') ? 'cancelled' : 'done',
        said: null,
        finishedAt: new Date(),
        edit: linked && withoutText(linked),
      },
      { transaction },
    );
    await tell({ kind: 'handoff', id: handoffId });
  });
}

export async function giveUpEnding(
  context: ActionContext,
  { handoffId }: HandoffEndJob,
  error: unknown,
): Promise<void> {
  const said =
    error instanceof Refusal
      ? error.message
      : 'The files are there, but their receipts could not be written; the log says why. Try again.';
  await action(context, async ({ transaction, tell }) => {
    await HandoffRow.update({ state: 'paused', said }, { where: { id: handoffId }, transaction });
    await tell({ kind: 'handoff', id: handoffId });
  });
}

function entryOf({ name, state, error, result }: HandoffFileRow): CompletedEntry {
  if (!result)
    return {
      ...{ file: name, receipt: null, conform: [], line: null, paths: [] },
      left: state === 'cancelled' ? 'It was cancelled before its turn.' : (error ?? 'It was not written.'),
    };
  const { receipt, files } = result;
  return {
    ...{ file: name, receipt, left: null, conform: files[0].conform },
    line: receiptLine(name, receipt, files),
    paths: files.map(({ path }) => path),
  };
}

/** The edit as it was given, pointing to the files of this handoff. */
async function linkedEdit(
  { sequelize }: ActionContext,
  { editId, wanted, folder }: HandoffRow,
  files: HandoffFileRow[],
): Promise<(EditLinked & { text: string }) | null> {
  const edit = editId ? await EditRow.findByPk(editId) : null;
  if (!edit) return null;
  const { file, clips } = await matchedEdit(sequelize, edit);
  const byClip = new Map(files.flatMap((row) => [row.clipId, row.partnerId].map((id) => [id, row] as const)));
  const linked = clips.map((clip): LinkedClip => {
    const result = byClip.get(clip.id)?.result;
    return {
      ...clip,
      pieces: result?.pieces ?? [],
      channels: {
        // A side of its own became one of two.
        before: byClip.get(clip.id)?.partnerId ? 1 : (result?.receipt.before.format.channels ?? 0),
        after: result?.receipt.files[0].after.format.channels ?? 0,
      },
    };
  });
  const { text, ...told } = file.link(linked, wanted.place.kind === 'download' ? null : folder);
  return { name: edit.name, text, ...told };
}

function withoutText({ name, events, matched, missing, ambiguous }: EditLinked): EditLinked {
  return { name, events, matched, missing: [...new Set(missing)], ambiguous: [...new Set(ambiguous)] };
}

/** What a worker that was killed had begun. */
async function removeScratch(folder: string, files: HandoffFileRow[]): Promise<void> {
  const there = new Set(await readdir(folder).catch(() => []));
  for (const { id } of files) {
    const name = scratchOf(id);
    if (there.has(name)) await rm(join(folder, name), { recursive: true, force: true });
  }
}

/** Where nothing was handed off nothing is left, but for what was there before. */
async function removeIfEmpty(folder: string): Promise<void> {
  await rmdir(join(folder, RECEIPTS)).catch(() => undefined);
  await rmdir(folder).catch(() => undefined);
}
