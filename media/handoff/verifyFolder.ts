import { lstat, readdir, readFile } from 'node:fs/promises';
import { join, posix } from 'node:path';
import { MHL_MANIFEST, readMhl, readSha256, SHA256_MANIFEST } from '@pocket-twin/core/handoff/manifest.ts';
import type { Verified } from '@pocket-twin/core/schema/handoff.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { checksumsOf } from './checksums.ts';

export interface VerifiedFile {
  path: string;
  /** not named: it lies there, and no handoff put it there. */
  state: 'as handed off' | 'changed' | 'missing' | 'not named';
}

/** What a manifest cannot name: itself, and what is there while somebody is at work. */
const UNNAMED = /^(manifest\.(sha256|mhl)|\.pocket-twin-.*)$/;

/**
 * Holds a handed-off folder against its manifest, and tells what else lies there.
 * @throws Refusal where there is none, where it is cut or empty, or where it names something outside the folder
 */
export async function verifyFolder(
  folder: string,
  onFile: (share: number) => void = () => undefined,
): Promise<VerifiedFile[]> {
  const entries = await wholeManifest(folder);
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
  const named = new Set(entries.map(({ path }) => path));
  for (const path of await filesIn(folder))
    if (!named.has(path) && !UNNAMED.test(path)) verified.push({ path, state: 'not named' });
  return verified;
}

/** @throws Refusal where it is not there, or not all of it */
async function wholeManifest(folder: string): Promise<{ path: string; sha256: string }[]> {
  const text = await readFile(join(folder, SHA256_MANIFEST), 'utf8').catch(() => {
    throw new Refusal('not-found', `There is no ${SHA256_MANIFEST} in ${folder}: nothing was handed off there.`);
  });
  const entries = readSha256(text);
  if (entries.length === 0)
    throw new Refusal('damaged', `${SHA256_MANIFEST} in ${folder} is empty: hand off again to make it anew.`);
  // Both lists are written together, each whole.
  const hashes = readMhl(await readFile(join(folder, MHL_MANIFEST), 'utf8').catch(() => ''));
  const named = new Set(entries.map(({ path }) => path));
  const unnamed = hashes.filter(({ path }) => !named.has(path)).length;
  if (!text.endsWith('\n') || unnamed > 0)
    throw new Refusal(
      'damaged',
      `${SHA256_MANIFEST} in ${folder} is cut off: it names ${entries.length} files${unnamed > 0 ? ` and ${MHL_MANIFEST} names ${unnamed} more` : ''}. Hand off again to make it anew.`,
    );
  return entries;
}

/** Paths within the folder, with forward slashes. */
async function filesIn(folder: string, within = ''): Promise<string[]> {
  const entries = await readdir(join(folder, within), { withFileTypes: true });
  const paths: string[] = [];
  for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const path = within === '' ? entry.name : `${within}/${entry.name}`;
    if (entry.isDirectory() && !UNNAMED.test(entry.name)) paths.push(...(await filesIn(folder, path)));
    else if (!entry.isDirectory()) paths.push(path);
  }
  return paths;
}

/** The same, counted. */
export async function verifiedFolder(folder: string): Promise<Verified> {
  const files = await verifyFolder(folder);
  const of = (state: VerifiedFile['state']): string[] =>
    files.filter((file) => file.state === state).map(({ path }) => path);
  const unnamed = of('not named');
  return { files: files.length - unnamed.length, changed: of('changed'), missing: of('missing'), unnamed };
}
