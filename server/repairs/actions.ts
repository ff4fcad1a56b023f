import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { KeepRepair } from '@pocket-twin/core/schema/clip.ts';
import { ClipRow } from '../clips/clip.ts';
import { action, type ActionContext, type Step } from '../platform/action.ts';
import { keepWithin } from './repairHistory.ts';
import { RepairStepRow } from './repairStep.ts';

/** @param seen what the sender saw kept; anything where it does not say */
export function keepRepair(context: ActionContext, clipId: string, { repair, seen }: KeepRepair): Promise<void> {
  return onClip(context, clipId, (clip, { transaction }) => keepWithin(clip, repair, transaction, seen));
}

export function undoRepair(context: ActionContext, clipId: string): Promise<void> {
  return onClip(context, clipId, async (clip, { transaction }) => {
    if (clip.stepsKept === 0) throw new Refusal('conflict', 'There is nothing to undo.');
    await clip.update({ stepsKept: clip.stepsKept - 1 }, { transaction });
  });
}

export function redoRepair(context: ActionContext, clipId: string): Promise<void> {
  return onClip(context, clipId, async (clip, { transaction }) => {
    const steps = await RepairStepRow.count({ where: { clipId }, transaction });
    if (clip.stepsKept >= steps) throw new Refusal('conflict', 'There is nothing to redo.');
    await clip.update({ stepsKept: clip.stepsKept + 1 }, { transaction });
  });
}

/** The clip's row is locked, so that two pages cannot keep two repairs in the same place. */
function onClip(
  context: ActionContext,
  clipId: string,
  change: (clip: ClipRow, step: Step) => Promise<void>,
): Promise<void> {
  return action(context, async (step) => {
    const { transaction, tell } = step;
    const clip = await ClipRow.findByPk(clipId, { transaction, lock: transaction.LOCK.UPDATE });
    if (!clip) throw new Refusal('not-found', 'That clip is no longer in the project.');
    await change(clip, step);
    await tell({ kind: 'clip', id: clipId });
  });
}
