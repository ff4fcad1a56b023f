import { createRequire } from 'node:module';
import { Worker } from 'node:worker_threads';
import { Refusal, type RefusalCode } from '@pocket-twin/core/schema/refusal.ts';
import type { TaskName, Tasks } from './tasks.ts';

export type TaskMessage =
  | { kind: 'progress'; share: number }
  | { kind: 'done'; value: unknown }
  | { kind: 'refused'; code: RefusalCode; sentence: string }
  | { kind: 'broken'; stack: string };

export interface ThreadOptions {
  onProgress?: (share: number) => void;
  signal?: AbortSignal;
}

// By name, as this may be part of a built program that lies elsewhere.
const BOOT = createRequire(import.meta.url).resolve('@pocket-twin/media/threads/boot.mjs');

/**
 * Runs a task in a worker thread of its own, so that nothing that answers people waits for it.
 * @throws Refusal as the task threw it, or `cancelled` when the signal came
 */
export function inThread<Name extends TaskName>(
  name: Name, input: Parameters<Tasks[Name]>[0], { onProgress, signal }: ThreadOptions = {},
): Promise<Awaited<ReturnType<Tasks[Name]>>> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(BOOT, { workerData: { name, input } });
    const cancel = (): void => {
      reject(new Refusal('cancelled', 'Cancelled.'));
      void worker.terminate();
    };
    if (signal?.aborted) return cancel();
    signal?.addEventListener('abort', cancel, { once: true });
    worker.on('message', (message: TaskMessage) => {
      switch (message.kind) {
        case 'progress': return onProgress?.(message.share);
        case 'done': return resolve(message.value as Awaited<ReturnType<Tasks[Name]>>);
        case 'refused': return reject(new Refusal(message.code, message.sentence));
        case 'broken': return reject(new Error(message.stack));
      }
    });
    worker.on('error', reject);
    worker.on('exit', () => {
      signal?.removeEventListener('abort', cancel);
      reject(new Error(`The thread for “${name}” ended without a word.`));
    });
  });
}
