import { readdir, stat } from 'node:fs/promises';
import { dirname, extname, join, relative, resolve, sep } from 'node:path';
import { looksLikeRecording } from '@pocket-twin/core/schema/mediaNames.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

/** A recording of the shoot, and where its files go within the folder. */
export interface ShootFile {
  path: string;
  /** Without its ending, forward slashes. */
  stem: string;
}

/**
 * @param except the handoff's own folder, which may lie within
 * @returns the recordings, and what else lies in the folders that were named. @throws Refusal where there is no recording
 */
export async function shootFiles(inputs: string[], except: string): Promise<{ files: ShootFile[]; ignored: string[] }> {
  const found: ShootFile[] = [];
  const ignored: string[] = [];
  const add = (path: string, base: string): void => {
    const parts = relative(base, path)
      .split(sep)
      .map((part, i, all) => (i === all.length - 1 ? withoutEnding(part) : part));
    found.push({ path, stem: parts.join('/') });
  };
  for (const input of inputs) {
    const info = await stat(input).catch(() => null);
    if (!info?.isDirectory()) add(input, dirname(input));
    else for (const path of await recordingsIn(input, except, ignored)) add(path, input);
  }
  if (found.length === 0) throw new Refusal('bad-request', 'There is no recording in what was named.');
  return { files: found, ignored };
}

/** Recordings of a folder and those within it, in order; not what was handed off into it. */
async function recordingsIn(folder: string, except: string, ignored: string[]): Promise<string[]> {
  const entries = await readdir(folder, { withFileTypes: true });
  entries.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
  const paths: string[] = [];
  for (const entry of entries) {
    const path = join(folder, entry.name);
    if (entry.name.startsWith('.') || resolve(path) === except) continue;
    if (entry.isDirectory()) paths.push(...(await recordingsIn(path, except, ignored)));
    else if (entry.isFile() && looksLikeRecording(entry.name)) paths.push(path);
    else if (entry.isFile()) ignored.push(path);
  }
  return paths;
}

function withoutEnding(name: string): string {
  return name.slice(0, name.length - extname(name).length);
}
