import { availableParallelism } from 'node:os';
import { basename } from 'node:path';
import { pMapIterable } from 'p-map';
import { progressBar } from './progress.ts';
import { sentenceOf, traceOf } from './trouble.ts';

/** One of several files on its way. */
export interface FileSlot {
  /** From 0, in the order given. */
  index: number;
  /** One of them is done in this thread, which is warm already; the others each in one of their own. */
  ownThread: boolean;
  onProgress: (share: number) => void;
}

const STOPS = ['SIGINT', 'SIGTERM'] as const;

export type Outcome<Result> = { file: string; result: Result } | { file: string; error: string };

/**
 * Does a piece of work on many files, as many at once as there are cores, and tells the results in the order given. One file that cannot be read
 * stops no other. The first Ctrl-C, or a request to end, lets those in work finish and begins no other; the second ends at once.
 * @returns files that were not begun any more
 */
export async function eachFile<Result>(
  files: string[],
  work: (file: string, slot: FileSlot) => Promise<Result>,
  tell: (outcome: Outcome<Result>) => void,
): Promise<number> {
  const bar = progressBar(files.length === 1 ? basename(files[0]) : `${files.length} files`);
  const shares = new Float64Array(files.length);
  const show = (index: number, share: number): void => {
    shares[index] = share;
    bar.show(shares.reduce((sum, one) => sum + one, 0) / files.length);
  };
  let stopping = false;
  const stop = (): void => {
    if (stopping) process.exit(130);
    stopping = true;
  };
  for (const signal of STOPS) process.on(signal, stop);
  const atOnce = Math.min(availableParallelism(), files.length);
  let hereIsFree = true;
  let leftOut = 0;
  try {
    const outcomes = pMapIterable(
      files.entries(),
      async ([index, file]): Promise<Outcome<Result> | null> => {
        if (stopping) return null;
        const ownThread = !hereIsFree;
        if (!ownThread) hereIsFree = false;
        try {
          return { file, result: await work(file, { index, ownThread, onProgress: (share) => show(index, share) }) };
        } catch (error) {
          traceOf(error);
          return { file, error: sentenceOf(error, basename(file)) };
        } finally {
          if (!ownThread) hereIsFree = true;
          show(index, 1);
        }
      },
      { concurrency: atOnce, backpressure: files.length },
    );
    for await (const outcome of outcomes) {
      if (!outcome) leftOut++;
      else bar.aside(() => tell(outcome));
    }
    return leftOut;
  } finally {
    for (const signal of STOPS) process.off(signal, stop);
    bar.done();
  }
}
