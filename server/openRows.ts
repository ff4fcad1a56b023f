import { QueryTypes } from 'sequelize';
import { action, type ActionContext } from './platform/action.ts';
import { SUBJECTS } from './subjects.ts';

// Of all who look after rows one does at a time.
const LOCK = [4820, 1] as const;

/**
 * Gives a job to every row that waits for one and has none: clips that were put back after the queue had passed them, and whatever was lost in a way
 * that nobody foresaw. @returns how many got one
 */
export function queueOpenRows(context: ActionContext): Promise<number> {
  return action(context, async (step) => {
    const [{ free }] = await step.sequelize.query<{ free: boolean }>(
      `select pg_try_advisory_xact_lock(${LOCK.join(', ')}) as free`,
      { type: QueryTypes.SELECT, transaction: step.transaction },
    );
    let queued = 0;
    if (free) for (const { queueOpen } of Object.values(SUBJECTS)) queued += (await queueOpen?.(step)) ?? 0;
    return queued;
  });
}
