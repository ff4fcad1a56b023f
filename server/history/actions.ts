import { Op, QueryTypes } from 'sequelize';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { tellClips } from '../clips/actions.ts';
import { ClipRow } from '../clips/clip.ts';
import { queueOpenClips } from '../clips/openClips.ts';
import { action, type ActionContext, type Step } from '../platform/action.ts';
import { lockProject } from '../projects/project.ts';
import { reverseSetups, type SetupsChange } from '../setups/setupsChange.ts';
import type { BatchRow } from './batch.ts';
import { newest, oldestUndone } from './projectHistory.ts';

/** Takes back what was done last. */
export function undoLast(context: ActionContext, projectId: string): Promise<BatchRow> {
  return reverse(context, projectId, true);
}

/** Does again what was undone last. */
export function redoNext(context: ActionContext, projectId: string): Promise<BatchRow> {
  return reverse(context, projectId, false);
}

function reverse(context: ActionContext, projectId: string, undone: boolean): Promise<BatchRow> {
  return action(context, async (step) => {
    const { transaction } = step;
    await lockProject(projectId, transaction);
    const batch = await (undone ? newest : oldestUndone)(projectId, transaction);
    if (!batch) throw new Refusal('conflict', `There is nothing to ${undone ? 'undo' : 'redo'}.`);
    const clipIds = await REVERSALS[batch.kind](step, batch, undone);
    await batch.update({ undone }, { transaction });
    await tellClips(step, projectId, clipIds);
    return batch;
  });
}

type Reversal = (step: Step, batch: BatchRow, undone: boolean) => Promise<string[]>;

/** How each kind is taken back, or done again. @returns the clips that changed by themselves, so that their rows are told */
const REVERSALS: Record<BatchRow['kind'], Reversal> = {
  // Only where nothing was done to the clip since.
  suggestion: async ({ sequelize, transaction }, { id }, undone) => {
    const rows = await sequelize.query<{ id: string }>(
      undone
        ? `update clips c set "stepsKept" = c."stepsKept" - 1 from repair_steps s where s."clipId" = c.id and s.position = c."stepsKept" and s."batchId" = :id returning c.id`
        : `update clips c set "stepsKept" = c."stepsKept" + 1 from repair_steps s where s."clipId" = c.id and s.position = c."stepsKept" + 1 and s."batchId" = :id returning c.id`,
      { replacements: { id }, type: QueryTypes.SELECT, transaction },
    );
    return rows.map((row) => row.id);
  },
  removal: async (step, { projectId, change }, undone) => {
    const { clipIds } = change as { clipIds: string[] };
    const where = { projectId, id: clipIds, removedAt: undone ? { [Op.ne]: null } : null };
    const { transaction } = step;
    const [found] = await ClipRow.unscoped().update({ removedAt: undone ? null : new Date() }, { where, transaction });
    if (undone && found === 0)
      throw new Refusal('conflict', 'Those clips were taken out more than a day ago and are forgotten.');
    // What waited to be measured when it was taken away goes on.
    await queueOpenClips(step, projectId);
    return clipIds;
  },
  setups: async ({ transaction, sendSoon }, { projectId, change }, undone) => {
    await reverseSetups(projectId, change as SetupsChange, undone ? 'before' : 'after', transaction);
    await sendSoon('setups', { projectId }, projectId);
    return [];
  },
};
