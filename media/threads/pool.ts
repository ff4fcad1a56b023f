import { availableParallelism } from 'node:os';
import { createRequire } from 'node:module';
import { isMainThread, MessageChannel, type MessagePort } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import { Refusal, type RefusalCode } from '@pocket-twin/core/schema/refusal.ts';
import { THREAD_LIMITS } from './threadLimits.ts';

/** What a thread is asked; how far it is goes to `progress`. */
export interface TaskOrder {
  name: string;
  input: unknown;
  progress: MessagePort;
}

/** A Refusal loses its class between threads, so it comes as data. Anything else thrown is passed on as it is. */
export type TaskAnswer = { kind: 'done'; value: unknown } | { kind: 'refused'; code: RefusalCode; sentence: string };

export interface ThreadOptions {
  onProgress?: (progress: Progress) => void;
  signal?: AbortSignal;
}

// By name, as this may be part of a built program that lies elsewhere.
const BOOT = createRequire(import.meta.url).resolve('@pocket-twin/media/threads/boot.mjs');
const IDLE_MS = 10_000;
// A long file is written while every core measures; a measuring thread asks one more to help it.
const THREADS = isMainThread ? availableParallelism() + 1 : 1;

let pool: Piscina | null = null;

/** Threads that are kept for a while: starting one takes as long as measuring a short clip. */
function threads(): Piscina {
  pool ??= new Piscina({
    filename: BOOT,
    minThreads: 0,
    maxThreads: THREADS,
    idleTimeout: IDLE_MS,
    atomics: 'disabled',
    resourceLimits: THREAD_LIMITS,
  });
  return pool;
}

/**
 * Runs a task by its name in another thread. What it takes and gives is for the caller to know: `inThread` knows it for all tasks.
 * @throws Refusal as the task threw it, or `cancelled` when the signal came
 */
export async function runInThread(
  name: string,
  input: unknown,
  { onProgress, signal }: ThreadOptions = {},
): Promise<unknown> {
  const { port1, port2 } = new MessageChannel();
  if (onProgress) port1.on('message', onProgress);
  // Listening alone keeps no process alive.
  port1.unref();
  const order: TaskOrder = { name, input, progress: port2 };
  try {
    const answer = (await threads().run(order, { transferList: [port2], signal })) as TaskAnswer;
    if (answer.kind === 'refused') throw new Refusal(answer.code, answer.sentence);
    return answer.value;
  } catch (error) {
    if (signal?.aborted) throw new Refusal('cancelled', 'Cancelled.');
    throw error;
  } finally {
    port1.close();
  }
}
