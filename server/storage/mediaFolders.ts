import { lstat, readdir, realpath, stat } from 'node:fs/promises';
import { basename, dirname, join, relative, resolve, sep } from 'node:path';
import type { MediaEntry, MediaFolder, MediaListing } from '@pocket-twin/core/schema/mediaFolder.ts';
import { looksLikeRecording } from '@pocket-twin/core/schema/mediaNames.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { naturalOrder } from '@pocket-twin/core/setups/namePattern.ts';

const MOST_FILES = 10_000;
const DEEPEST = 12;

export interface FoundFile {
  path: string;
  /** From the media folder, without the file's name; empty at the top. */
  folder: string;
  name: string;
}

/** The folders whose files may be brought in where they lie. Nothing outside them is ever read, through links neither. */
export class MediaFolders {
  constructor(private readonly roots: string[]) {}

  list(): MediaFolder[] {
    return this.roots.map((path, index) => ({ index, path, name: basename(path) || path }));
  }

  /** A page of what lies in a folder: folders first, then files that can be recordings. Hidden ones are left out. */
  async browse(index: number, path: string, offset: number, limit: number): Promise<MediaListing> {
    const { root, real } = await this.resolve(index, path);
    const found = await readdir(real, { withFileTypes: true }).catch(() => {
      throw new Refusal('not-allowed', `${path || this.list()[index].name} can’t be opened as a folder.`);
    });
    const named = found.filter(({ name }) => !name.startsWith('.')).sort((a, b) => naturalOrder(a.name, b.name));
    const folders = named.filter((entry) => entry.isDirectory());
    const files = named.filter((entry) => entry.isFile() && looksLikeRecording(entry.name));
    const entries = await Promise.all([...folders, ...files].slice(offset, offset + limit).map(async (entry): Promise<MediaEntry> => {
      const whole = join(real, entry.name);
      const kind = entry.isDirectory() ? 'folder' : 'file';
      return { name: entry.name, path: toSlashes(relative(root, whole)), kind, bytes: kind === 'file' ? (await lstat(whole)).size : 0 };
    }));
    return { entries, total: folders.length + files.length };
  }

  /** The files under the given places: a file is taken as it is, a folder with all that looks like a recording in it. */
  async find(index: number, paths: string[]): Promise<FoundFile[]> {
    const files = new Map<string, FoundFile>();
    for (const path of paths) {
      const { root, real } = await this.resolve(index, path);
      const inside = (await stat(real)).isDirectory() ? await recordingsUnder(real, DEEPEST) : [real];
      for (const file of inside) {
        const folder = toSlashes(relative(root, dirname(file)));
        files.set(file, { path: file, name: basename(file), folder: folder || this.list()[index].name });
      }
      if (files.size > MOST_FILES) throw new Refusal('too-large', `There are more than ${MOST_FILES} recordings in there. Choose folders inside it.`);
    }
    return [...files.values()].sort((a, b) => naturalOrder(a.folder, b.folder) || naturalOrder(a.name, b.name));
  }

  private async resolve(index: number, path: string): Promise<{ root: string; real: string }> {
    const configured = this.roots[index];
    if (configured === undefined) throw new Refusal('not-found', 'That media folder is not in the start configuration.');
    const root = await realpath(configured).catch(() => {
      throw new Refusal('not-found', `${configured} is not there: is the disk connected?`);
    });
    const outside = new Refusal('not-allowed', 'Only what lies inside the media folders can be brought in.');
    const wanted = resolve(root, `.${sep}${path}`);
    if (!isInside(root, wanted)) throw outside;
    const real = await realpath(wanted).catch(() => {
      throw new Refusal('not-found', `${path} is no longer there.`);
    });
    if (!isInside(root, real)) throw outside;
    return { root, real };
  }
}

function isInside(root: string, path: string): boolean {
  return path === root || path.startsWith(root.endsWith(sep) ? root : root + sep);
}

async function recordingsUnder(folder: string, deeper: number): Promise<string[]> {
  const entries = (await readdir(folder, { withFileTypes: true })).filter(({ name }) => !name.startsWith('.'));
  const files = entries.filter((entry) => entry.isFile() && looksLikeRecording(entry.name)).map(({ name }) => join(folder, name));
  if (deeper > 0) for (const entry of entries) if (entry.isDirectory()) files.push(...await recordingsUnder(join(folder, entry.name), deeper - 1));
  return files;
}

function toSlashes(path: string): string {
  return path.split(sep).join('/');
}
