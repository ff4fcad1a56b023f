import type { ErrorRequestHandler, RequestHandler, Response } from 'express';
import * as z from 'zod';
import type { Problem } from '@pocket-twin/core/schema/problem.ts';
import { Refusal, type RefusalCode } from '@pocket-twin/core/schema/refusal.ts';
import { isDatabaseAway } from '../platform/database/isDatabaseAway.ts';
import type { Logger } from '../platform/log.ts';

const STATUS: Record<RefusalCode, number> = {
  'not-found': 404,
  'not-audio': 415,
  'empty-file': 422,
  damaged: 422,
  'not-allowed': 403,
  'too-large': 413,
  'no-room': 507,
  'bad-request': 400,
  conflict: 409,
  exists: 409,
  interrupted: 503,
  cancelled: 409,
};

/** @throws Refusal with the first complaint of the schema */
export function parse<Schema extends z.ZodType>(schema: Schema, value: unknown): z.infer<Schema> {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  throw new Refusal('bad-request', issue.path.length > 0 ? `${issue.path.join('.')}: ${issue.message}` : issue.message);
}

/** An id from an address. @throws Refusal that says what is missing: whoever follows a bad link knows nothing of ids */
export function idOf(value: unknown, what: 'project' | 'clip' | 'setup' | 'file' | 'recipe' | 'handoff'): string {
  const result = z.uuid().safeParse(value);
  if (result.success) return result.data;
  throw new Refusal('not-found', `There is no ${what} at that address.`);
}

export const notFound: RequestHandler = () => {
  throw new Refusal('not-found', 'There is nothing at that address.');
};

/** Every error leaves as problem details (RFC 9457): a Refusal with its sentence, anything else without a word of its inside. */
export function problems(log: Logger): ErrorRequestHandler {
  return (error, request, response, next) => {
    if (response.headersSent) return next(error);
    if (error instanceof Refusal) return send(response, STATUS[error.code], error.code, error.message);
    const status = (error as { status?: number }).status;
    if (status && status >= 400 && status < 500)
      return send(response, status, 'bad-request', 'That request could not be read.');
    if (isDatabaseAway(error)) {
      log.warn({ error: (error as Error).message, url: request.originalUrl }, 'The database did not answer');
      return send(
        response,
        503,
        'database-away',
        'The database does not answer just now. Nothing is lost; try again in a moment.',
      );
    }
    log.error({ err: error, url: request.originalUrl }, 'A request broke');
    send(response, 500, 'internal', 'Something went wrong on our side; the log says what.');
  };
}

function send(response: Response, status: number, code: string, title: string): void {
  const problem: Problem = { type: 'about:blank', status, title, code };
  response.status(status).type('application/problem+json').send(JSON.stringify(problem));
}
