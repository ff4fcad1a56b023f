import { pino, type Logger } from 'pino';

export type { Logger };

/** One JSON object a line on standard output, named for the process that wrote it. */
export function createLog(name: string): Logger {
  return pino({ name, level: process.env.LOG_LEVEL ?? 'info' });
}
