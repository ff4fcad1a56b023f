import { randomBytes } from 'node:crypto';
import { link, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

const BYTES = 24;

/**
 * What lets a browser in: a word that only who can read this home knows. Made once for a home, so that a page that is open stays in when the server is
 * started again; whoever wants a new one removes the file.
 */
export async function startToken(home: string): Promise<string> {
  const file = join(home, 'start-token');
  const found = await readFile(file, 'utf8').catch(() => '');
  if (found.length >= BYTES) return found;
  await rm(file, { force: true });
  // Whole or not at all, and the same for all who start at once.
  const made = `${file}.${randomBytes(4).toString('hex')}.part`;
  await writeFile(made, randomBytes(BYTES).toString('base64url'), { mode: 0o600 });
  await link(made, file).catch(() => undefined);
  await rm(made);
  return readFile(file, 'utf8');
}
