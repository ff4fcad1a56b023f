import { chmod, lstat, readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { MHL_MANIFEST, readSha256, SHA256_MANIFEST } from '@pocket-twin/core/handoff/manifest.ts';

/** What our programs were started with, before they kept what they make to themselves. */
const UMASK_VARIABLE = 'POCKET_TWIN_UMASK';

function startedUmask(): number {
  const told = Number.parseInt(process.env[UMASK_VARIABLE] ?? '', 8);
  return Number.isInteger(told) ? told : process.umask();
}

/** Gives files that go to others, and the folders that they lie in, the modes that whoever started us gives what he makes. @param paths within the folder */
export async function giveModes(folder: string, paths: readonly string[], umask = startedUmask()): Promise<void> {
  const folders = new Set([folder]);
  for (const path of paths) {
    const file = join(folder, path);
    const found = await lstat(file).catch(() => null);
    // What somebody has put in its place meanwhile is his.
    if (!found?.isFile()) continue;
    await chmod(file, 0o666 & ~umask);
    for (let at = dirname(file); at !== folder && at.startsWith(folder); at = dirname(at)) folders.add(at);
  }
  for (const one of folders) await chmod(one, 0o777 & ~umask).catch(() => undefined);
}

/** What a handoff's manifest names, and its manifests. */
export async function everythingIn(folder: string): Promise<string[]> {
  const text = await readFile(join(folder, SHA256_MANIFEST), 'utf8');
  return [...readSha256(text).map(({ path }) => path), SHA256_MANIFEST, MHL_MANIFEST];
}
