import type { MessagePort } from 'node:worker_threads';
import { Refusal, type RefusalCode } from '@pocket-twin/core/schema/refusal.ts';
import type { Progress } from '@pocket-twin/core/schema/changes.ts';
import { tasks, type TaskName } from './tasks.ts';

/** What a thread is asked; how far it is goes to `progress`. */
export interface TaskOrder {
  name: TaskName;
  input: unknown;
  progress: MessagePort;
}

/** A Refusal loses its class between threads, so it comes as data. Anything else thrown is passed on as it is. */
export type TaskAnswer = { kind: 'done'; value: unknown } | { kind: 'refused'; code: RefusalCode; sentence: string };

const LEAST_MS_BETWEEN_REPORTS = 100;

export async function runTask({ name, input, progress }: TaskOrder): Promise<TaskAnswer> {
  let lastReport = 0;
  let stage = '';
  try {
    const value = await tasks[name](input as never, (reached: Progress) => {
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
