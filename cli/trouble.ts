import { basename, dirname } from 'node:path';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

/** What the system says, for people: what happened, where, and the way out. */
const SYSTEM: Record<string, (path: string) => string> = {
  ENAMETOOLONG: (path) =>
    `The name ${shortened(basename(path))} is too long for the disk that it goes to. Shorten it, or name files with --name.`,
  EACCES: (path) => `Nobody may write ${path} here. Check who owns ${dirname(path)}, or choose another --out.`,
  EPERM: (path) => `${path} can’t be written here. Choose another --out.`,
  EROFS: (path) => `The disk of ${path} is read-only. Choose another --out.`,
  ENOENT: (path) => `${path} can’t be made or is no longer there. Check the folder, or choose another --out.`,
  ENOTDIR: (path) => `${dirname(path)} is a file, not a folder. Choose another --out.`,
  EISDIR: (path) => `${path} is a folder. Choose another name.`,
  ENOSPC: (path) => `There is no room on the disk for ${basename(path)}. Free some, and try again.`,
  EDQUOT: (path) => `There is no room left for you on the disk for ${basename(path)}. Free some, and try again.`,
  EIO: (path) => `The disk that holds ${path} cannot read or write just now. Check it, and try again.`,
  EMFILE: () => 'Too many files are open at once on this machine. Close some programs, and try again.',
};

/** One sentence for whatever went wrong; what nobody foresaw is told with the error's own first line. @param about what was worked on */
export function sentenceOf(error: unknown, about: string): string {
  if (error instanceof Refusal) return error.message;
  const { code = '', path = about, message = String(error) } = error as NodeJS.ErrnoException;
  const known = SYSTEM[code];
  if (known) return known(path);
  return `${about}: something went wrong that should not (${message.split('\n')[0]}). Nothing of it was kept. POCKET_TWIN_TRACE=1 shows where.`;
}

/** For whoever mends it. */
export function traceOf(error: unknown): void {
  if (process.env.POCKET_TWIN_TRACE && error instanceof Error) process.stderr.write(`${error.stack}\n`);
}

function shortened(name: string): string {
  return name.length <= 60 ? name : `${name.slice(0, 40)}…${name.slice(-16)}`;
}
