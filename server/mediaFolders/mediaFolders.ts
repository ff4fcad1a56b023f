import { lstat, realpath, stat } from 'node:fs/promises';
import { basename, dirname, join, relative, resolve, sep } from 'node:path';
import type { MediaEntry, MediaFolder, MediaListing } from '@pocket-twin/core/schema/mediaFolder.ts';
import { looksLikeRecording } from '@pocket-twin/core/schema/mediaNames.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { naturalOrder } from '@pocket-twin/core/setups/namePattern.ts';
import { isInside } from '../platform/home/isInside.ts';
import { readFolder } from './readFolder.ts';

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
    const { entries: found, skipped } = await readFolder(real).catch(() => {
      throw new Refusal('not-allowed', `${path || this.list()[index].name} can’t be opened as a folder.`);
    });
    const sorted = found.sort((a, b) => naturalOrder(a.name, b.name));
    const folders = sorted.filter(({ kind }) => kind === 'folder');
    const files = sorted.filter(({ kind, name }) => kind === 'file' && looksLikeRecording(name));
    const entries = await Promise.all(
      [...folders, ...files].slice(offset, offset + limit).map(async ({ name, kind }): Promise<MediaEntry> => {
        const whole = join(real, name);
        // Gone since the folder was read: of no size, and said so when it is chosen.
        const bytes =
          kind === 'file'
            ? await lstat(whole).then(
                ({ size }) => size,
                () => 0,
              )
            : 0;
        return { name, path: toSlashes(relative(root, whole)), kind: kind === 'folder' ? 'folder' : 'file', bytes };
      }),
    );
    return { entries, total: folders.length + files.length, skipped };
  }

  /** The files under the given places: a file is taken as it is, a folder with all that looks like a recording in it. What cannot be taken is passed over and said. */
  async find(index: number, paths: string[]): Promise<{ files: FoundFile[]; skipped: string[] }> {
    const files = new Map<string, FoundFile>();
    const skipped: string[] = [];
    for (const path of paths) {
      const { root, real } = await this.resolve(index, path);
      const what = await stat(real);
      const inside = what.isDirectory()
        ? await recordingsUnder(real, DEEPEST, toSlashes(relative(root, real)), skipped)
        : what.isFile()
          ? [real]
          : [];
      if (!what.isDirectory() && !what.isFile()) skipped.push(`${path}: it is not a file but a pipe or a device.`);
      for (const file of inside) {
        const folder = toSlashes(relative(root, dirname(file)));
        files.set(file, { path: file, name: basename(file), folder: folder || this.list()[index].name });
      }
      if (files.size > MOST_FILES)
        throw new Refusal(
          'too-large',
          `There are more than ${MOST_FILES} recordings in there. Choose folders inside it.`,
        );
    }
    return {
      files: [...files.values()].sort((a, b) => naturalOrder(a.folder, b.folder) || naturalOrder(a.name, b.name)),
      skipped,
    };
  }

  private async resolve(index: number, path: string): Promise<{ root: string; real: string }> {
    const configured = this.roots[index];
    if (configured === undefined)
      throw new Refusal('not-found', 'That media folder is not in the start configuration.');
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

async function recordingsUnder(folder: string, deeper: number, shown: string, skipped: string[]): Promise<string[]> {
  const content = await readFolder(folder).catch(() => null);
  if (!content) {
    skipped.push(`${shown || basename(folder)}: the folder can’t be opened. Check who may read it.`);
    return [];
  }
  skipped.push(...content.skipped.map((sentence) => (shown ? `${shown}/${sentence}` : sentence)));
  const recordings = content.entries.filter(({ name }) => looksLikeRecording(name));
  skipped.push(
    ...recordings
      .filter(({ kind }) => kind === 'other')
      .map(({ name }) => `${shown ? `${shown}/` : ''}${name}: it is not a file but a link, a pipe or a device.`),
  );
  const files = recordings.filter(({ kind }) => kind === 'file').map(({ name }) => join(folder, name));
  if (deeper > 0)
    for (const { name, kind } of content.entries)
      if (kind === 'folder')
        files.push(
          ...(await recordingsUnder(join(folder, name), deeper - 1, shown ? `${shown}/${name}` : name, skipped)),
        );
  return files;
}

function toSlashes(path: string): string {
  return path.split(sep).join('/');
}
