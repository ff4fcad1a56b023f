import { access } from 'node:fs/promises';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { leaveAsItIs } from '@pocket-twin/core/repair/plan/plans.ts';
import { sameRepair } from '@pocket-twin/core/repair/plan/compare.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { WriteWanted } from '@pocket-twin/core/schema/clip.ts';
import { stampOf } from '@pocket-twin/media/disk/fileStamp.ts';
import { action, type ActionContext } from '../platform/action.ts';
import { ClipRow } from '../clips/clip.ts';
import { keepWithin, repairInForce } from '../repairs/repairHistory.ts';
import { WritingRow } from './writing.ts';
import type { Folders } from '../platform/home/folders.ts';

interface WritingContext extends ActionContext {
  folders: Folders;
}

/**
 * Has a clip's repair written. Asked for twice, it is written once: what is on its way, or is there already, is answered.
 * @param wanted is kept in the same step, so that what is written is always what is kept; without it, what is kept is written
 */
export function askForWriting(
  context: WritingContext,
  clipId: string,
  { repair: wanted, seen }: WriteWanted,
): Promise<{ writing: WritingRow; isNew: boolean }> {
  return action(context, async ({ transaction, send, tell }) => {
    const clip = await ClipRow.findByPk(clipId, { transaction, lock: transaction.LOCK.UPDATE });
    if (!clip?.inspection) throw new Refusal('not-found', 'That clip is no longer in the project.');
    const inForce = await repairInForce(clip, transaction);
    const repair = wanted ?? inForce ?? leaveAsItIs(clip.inspection.format.channels);
    await keepWithin(clip, repair, transaction, seen);
    await tell({ kind: 'clip', id: clipId });
    const newest = await WritingRow.findOne({ where: { clipId }, order: [['createdAt', 'DESC']], transaction });
    if (newest && sameRepair(newest.repair, repair) && (await stillCounts(newest, clip, context.folders)))
      return { writing: newest, isNew: false };
    const writing = await WritingRow.create(
      { clipId, projectId: clip.projectId, repair, state: 'waiting' },
      { transaction },
    );
    await send('write', { writingId: writing.id, ...(clip.linked && { seen: await stampOf(clip.sourcePath) }) });
    await tell({ kind: 'writing', id: writing.id });
    return { writing, isNew: true };
  });
}

/** It is on its way, or done from what the clip still is with its files still there. */
async function stillCounts({ id, state, receipt }: WritingRow, clip: ClipRow, folders: Folders): Promise<boolean> {
  if (state === 'waiting' || state === 'writing') return true;
  if (state !== 'done' || !receipt || !isDeepStrictEqual(receipt.before, clip.inspection)) return false;
  const there = await Promise.all(
    receipt.files.map(({ name }) =>
      access(join(folders.writing(id), name)).then(
        () => true,
        () => false,
      ),
    ),
  );
  return there.every(Boolean);
}
