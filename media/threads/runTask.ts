import { parentPort, workerData } from 'node:worker_threads';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { tasks, type TaskName } from './tasks.ts';
import type { TaskMessage } from './inThread.ts';

const LEAST_MS_BETWEEN_REPORTS = 100;

const { name, input } = workerData as { name: TaskName; input: never };
const post = (message: TaskMessage): void => parentPort!.postMessage(message);
let lastReport = 0;

try {
  const value = await tasks[name](input, (share) => {
    if (Date.now() - lastReport < LEAST_MS_BETWEEN_REPORTS) return;
    lastReport = Date.now();
    post({ kind: 'progress', share });
  });
  post({ kind: 'done', value });
} catch (error) {
  if (error instanceof Refusal) post({ kind: 'refused', code: error.code, sentence: error.message });
  else post({ kind: 'broken', stack: error instanceof Error ? (error.stack ?? error.message) : String(error) });
}
