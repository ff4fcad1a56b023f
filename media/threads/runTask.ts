import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { TaskAnswer, TaskOrder } from './pool.ts';
import { tasks, type TaskName } from './tasks.ts';

const LEAST_MS_BETWEEN_REPORTS = 100;

export async function runTask({ name, input, progress }: TaskOrder): Promise<TaskAnswer> {
  let lastReport = 0;
  let stage = '';
  try {
    const value = await tasks[name as TaskName](input as never, (reached: Progress) => {
      if (reached.stage === stage && Date.now() - lastReport < LEAST_MS_BETWEEN_REPORTS) return;
      lastReport = Date.now();
      stage = reached.stage;
      progress.postMessage(reached);
    });
    return { kind: 'done', value };
  } catch (error) {
    if (error instanceof Refusal) return { kind: 'refused', code: error.code, sentence: error.message };
    throw error;
  } finally {
    progress.close();
  }
}
