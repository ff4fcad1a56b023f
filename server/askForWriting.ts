import { access } from 'node:fs/promises';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import type { Sequelize } from 'sequelize';
import { leaveAsItIs } from '@pocket-twin/core/repair/plan/plans.ts';
import { sameRepair } from '@pocket-twin/core/repair/plan/compare.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { stampOf } from '@pocket-twin/media/disk/fileStamp.ts';
import { announce } from './db/changes.ts';
import { ClipRow } from './db/clip.ts';
import { keepWithin, repairInForce } from './db/repairHistory.ts';
import { WritingRow } from './db/writing.ts';
import type { JobQueue } from './jobs/queue.ts';
import type { Folders } from './storage/folders.ts';

interface WritingContext {
  sequelize: Sequelize;
  queue: JobQueue;
  folders: Folders;
}

/**
 * Has a clip's repair written. Asked for twice, it is written once: what is on its way, or is there already, is answered.
 * @param wanted is kept in the same step, so that what is written is always what is kept; without it, what is kept is written
 */
export async function askForWriting(
  { sequelize, queue, folders }: WritingContext,
  clipId: string,
  wanted: Repair | undefined,
): Promise<{ writing: WritingRow; isNew: boolean }> {
  const asked = await sequelize.transaction(async (transaction) => {
    const clip = await ClipRow.findByPk(clipId, { transaction, lock: transaction.LOCK.UPDATE });
    if (!clip?.inspection) throw new Refusal('not-found', 'That clip is no longer in the project.');
    const inForce = await repairInForce(clip, transaction);
    const repair = wanted ?? inForce ?? leaveAsItIs(clip.inspection.format.channels);
    await keepWithin(clip, repair, transaction);
    const newest = await WritingRow.findOne({ where: { clipId }, order: [['createdAt', 'DESC']], transaction });
    if (newest && sameRepair(newest.repair, repair) && (await stillCounts(newest, clip, folders)))
      return { writing: newest, isNew: false };
    const writing = await WritingRow.create(
      { clipId, projectId: clip.projectId, repair, state: 'waiting' },
      { transaction },
    );
    await queue.send(
      'write',
      { writingId: writing.id, ...(clip.linked && { seen: await stampOf(clip.sourcePath) }) },
      transaction,
    );
    await announce(sequelize, { kind: 'writing', id: writing.id }, transaction);
    return { writing, isNew: true };
  });
  await announce(sequelize, { kind: 'clip', id: clipId });
  return asked;
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
