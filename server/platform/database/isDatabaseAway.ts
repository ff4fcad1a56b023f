import { ConnectionError } from 'sequelize';

// PostgreSQL's classes 08 (connection) and 57P (operator intervention: shutting down, starting up), and the system's own words for a dead line.
const CODES = /^(08...|57P0.|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT)$/;
const WORDS =
  /connection terminated|connection error|not queryable|timeout exceeded when trying to connect|the database system is|Cannot use a pool after calling end/i;

/** Whether an error says that the database could not be reached, and nothing of what was asked. */
export function isDatabaseAway(error: unknown): boolean {
  if (error instanceof ConnectionError) return true;
  const {
    code = '',
    message = '',
    original,
    parent,
    errors,
  } = error as { code?: string; message?: string; original?: unknown; parent?: unknown; errors?: unknown[] };
  if (CODES.test(code) || WORDS.test(message)) return true;
  // Several addresses of a host were tried.
  if (Array.isArray(errors) && errors.some((one) => one !== null && typeof one === 'object' && isDatabaseAway(one)))
    return true;
  const cause = original ?? parent;
  return cause !== undefined && cause !== null && cause !== error && isDatabaseAway(cause);
}
