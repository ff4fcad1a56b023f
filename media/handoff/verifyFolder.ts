import { lstat, readFile } from 'node:fs/promises';
import { join, posix } from 'node:path';
import { readSha256, SHA256_MANIFEST } from '@pocket-twin/core/handoff/manifest.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Verified } from '@pocket-twin/core/schema/handoff.ts';
import { checksumsOf } from './checksums.ts';

export interface VerifiedFile {
  path: string;
  state: 'as handed off' | 'changed' | 'missing';
}

/** Holds a handed-off folder against its manifest. @throws Refusal where there is none, or where it names something outside the folder */
export async function verifyFolder(
  folder: string,
  onFile: (share: number) => void = () => undefined,
): Promise<VerifiedFile[]> {
  const text = await readFile(join(folder, SHA256_MANIFEST), 'utf8').catch(() => {
    throw new Refusal('not-found', `There is no ${SHA256_MANIFEST} in ${folder}: nothing was handed off there.`);
  });
  const entries = readSha256(text);
  const outside = entries.find(({ path }) => posix.isAbsolute(path) || posix.normalize(path).startsWith('..'));
  if (outside) throw new Refusal('damaged', `${SHA256_MANIFEST} names a file outside the folder: ${outside.path}.`);
  const verified: VerifiedFile[] = [];
  for (const [i, { path, sha256 }] of entries.entries()) {
    const file = join(folder, path);
    const found = await lstat(file).catch(() => null);
    // A link in place of the file that was handed off is another file.
    const state = !found
      ? 'missing'
      : found.isFile() && (await checksumsOf(file)).sha256 === sha256
        ? 'as handed off'
        : 'changed';
    verified.push({ path, state });
    onFile((i + 1) / entries.length);
  }
  return verified;
}

/** The same, counted. */
export async function verifiedFolder(folder: string): Promise<Verified> {
  const files = await verifyFolder(folder);
  const of = (state: VerifiedFile['state']): string[] =>
    files.filter((file) => file.state === state).map(({ path }) => path);
  return { files: files.length, changed: of('changed'), missing: of('missing') };
}
