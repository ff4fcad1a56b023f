import { Op, type Sequelize, type Transaction } from 'sequelize';
import { sameRepair } from '@pocket-twin/core/repair/plan/compare.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { ClipRow } from './clip.ts';
import { RepairStepRow } from './repairStep.ts';

/** Keeps a repair after the one in force; what had been undone is gone. */
export function keepRepair(sequelize: Sequelize, clipId: string, repair: Repair): Promise<void> {
  return withClip(sequelize, clipId, (clip, transaction) => keepWithin(clip, repair, transaction));
}

/** The same within a transaction that holds the clip's row. */
export async function keepWithin(clip: ClipRow, repair: Repair, transaction: Transaction): Promise<void> {
  const inForce = await repairInForce(clip, transaction);
  // Asked for twice, it is one step.
  if (inForce && sameRepair(inForce, repair)) return;
  const channels = clip.inspection?.format.channels;
  if (channels !== repair.inputChannels) {
    throw new Refusal(
      'conflict',
      `${clip.name} has ${channels ?? 'no measured'} channels; the repair is for ${repair.inputChannels}.`,
    );
  }
  await RepairStepRow.destroy({ where: { clipId: clip.id, position: { [Op.gt]: clip.stepsKept } }, transaction });
  await RepairStepRow.create({ clipId: clip.id, position: clip.stepsKept + 1, repair }, { transaction });
  await clip.update({ stepsKept: clip.stepsKept + 1 }, { transaction });
}

/** The repair that is kept now; null where there is none. */
export async function repairInForce({ id, stepsKept }: ClipRow, transaction: Transaction): Promise<Repair | null> {
  if (stepsKept === 0) return null;
  return (await RepairStepRow.findOne({ where: { clipId: id, position: stepsKept }, transaction }))?.repair ?? null;
}

export function undoRepair(sequelize: Sequelize, clipId: string): Promise<void> {
  return withClip(sequelize, clipId, async (clip, transaction) => {
    if (clip.stepsKept === 0) throw new Refusal('conflict', 'There is nothing to undo.');
    await clip.update({ stepsKept: clip.stepsKept - 1 }, { transaction });
  });
}

export function redoRepair(sequelize: Sequelize, clipId: string): Promise<void> {
  return withClip(sequelize, clipId, async (clip, transaction) => {
    const steps = await RepairStepRow.count({ where: { clipId }, transaction });
    if (clip.stepsKept >= steps) throw new Refusal('conflict', 'There is nothing to redo.');
    await clip.update({ stepsKept: clip.stepsKept + 1 }, { transaction });
  });
}

/** The clip's row is locked, so that two pages cannot keep two repairs in the same place. */
function withClip(
  sequelize: Sequelize,
  clipId: string,
  change: (clip: ClipRow, transaction: Transaction) => Promise<void>,
): Promise<void> {
  return sequelize.transaction(async (transaction) => {
    const clip = await ClipRow.findByPk(clipId, { transaction, lock: transaction.LOCK.UPDATE });
    if (!clip) throw new Refusal('not-found', 'That clip is no longer in the project.');
    await change(clip, transaction);
  });
}
