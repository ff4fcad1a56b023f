import { Op, type Sequelize, type Transaction } from 'sequelize';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { ClipRow } from './clip.ts';
import { RepairStepRow } from './repairStep.ts';

/** Keeps a repair after the one in force; what had been undone is gone. */
export function keepRepair(sequelize: Sequelize, clipId: string, repair: Repair): Promise<void> {
  return withClip(sequelize, clipId, async (clip, transaction) => {
    const channels = clip.inspection?.format.channels;
    if (channels !== repair.inputChannels) {
      throw new Refusal('conflict', `${clip.name} has ${channels ?? 'no measured'} channels; the repair is for ${repair.inputChannels}.`);
    }
    await RepairStepRow.destroy({ where: { clipId, position: { [Op.gt]: clip.stepsKept } }, transaction });
    await RepairStepRow.create({ clipId, position: clip.stepsKept + 1, repair }, { transaction });
    await clip.update({ stepsKept: clip.stepsKept + 1 }, { transaction });
  });
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
  sequelize: Sequelize, clipId: string, change: (clip: ClipRow, transaction: Transaction) => Promise<void>,
): Promise<void> {
  return sequelize.transaction(async (transaction) => {
    const clip = await ClipRow.findByPk(clipId, { transaction, lock: transaction.LOCK.UPDATE });
    if (!clip) throw new Refusal('not-found', 'That clip is no longer in the project.');
    await change(clip, transaction);
  });
}
