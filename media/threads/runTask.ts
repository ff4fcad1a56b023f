import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { TaskAnswer, TaskOrder } from './pool.ts';
import { tasks, type TaskName } from './tasks.ts';

// Nobody follows what is done within the blink of an eye, and a thousand short clips would be told of four thousand times.
const FIRST_REPORT_MS = 200;
const LEAST_MS_BETWEEN_REPORTS = 100;

export async function runTask({ name, input, progress }: TaskOrder): Promise<TaskAnswer> {
  const began = Date.now();
  let lastReport = 0;
  let stage = '';
  try {
    const value = await tasks[name as TaskName](input as never, (reached: Progress) => {
      if (Date.now() - began < FIRST_REPORT_MS) return;
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
