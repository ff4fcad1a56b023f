import { Op, type Transaction } from 'sequelize';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { problemWith } from '@pocket-twin/core/repair/plan/problemWith.ts';
import { sameRepair } from '@pocket-twin/core/repair/plan/compare.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { ClipRow } from '../clips/clip.ts';
import { RepairStepRow } from './repairStep.ts';

/** Keeps a repair after the one in force; what had been undone is gone. Within a transaction that holds the clip's row. */
export async function keepWithin(
  clip: ClipRow,
  repair: Repair,
  transaction: Transaction,
  seen?: Repair | null,
): Promise<void> {
  const inForce = await repairInForce(clip, transaction);
  // Asked for twice, it is one step.
  if (inForce && sameRepair(inForce, repair)) return;
  const isSeen = seen === undefined || (seen === null || !inForce ? seen === inForce : sameRepair(seen, inForce));
  if (!isSeen)
    throw new Refusal(
      'conflict',
      `Another window has changed what is kept of ${clip.fileName}${inForce ? `: “${repairName(inForce)}”` : ''}. Nothing was overwritten; keep yours once more to replace it.`,
    );
  const channels = clip.inspection?.format.channels;
  if (channels !== repair.inputChannels) {
    throw new Refusal(
      'conflict',
      `${clip.fileName} has ${channels ?? 'no measured'} channels; the repair is for ${repair.inputChannels}.`,
    );
  }
  const problem = problemWith(repair, clip.inspection!.format);
  if (problem) throw new Refusal('conflict', `${clip.fileName}: ${problem}`);
  await RepairStepRow.destroy({ where: { clipId: clip.id, position: { [Op.gt]: clip.stepsKept } }, transaction });
  await RepairStepRow.create({ clipId: clip.id, position: clip.stepsKept + 1, repair }, { transaction });
  await clip.update({ stepsKept: clip.stepsKept + 1 }, { transaction });
}

/** The repair that is kept now; null where there is none. */
export async function repairInForce({ id, stepsKept }: ClipRow, transaction: Transaction): Promise<Repair | null> {
  if (stepsKept === 0) return null;
  return (await RepairStepRow.findOne({ where: { clipId: id, position: stepsKept }, transaction }))?.repair ?? null;
}
