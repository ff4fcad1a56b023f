import type { Logger } from './log.ts';

/** Lets something go on that nobody waits for. What breaks in it is logged, and ends nothing. */
export function inBackground(log: Logger, what: string, work: Promise<unknown>): void {
  work.catch((error: unknown) => log.warn({ error: (error as Error).message }, `${what} did not work`));
}
