import { randomUUID } from 'node:crypto';
import { constants } from 'node:fs';
import { copyFile, link, lstat, open, rename, rm, type FileHandle } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

// Small enough that the disk is never idle while a large file is made, large enough that its own order of writing is left to it.
const FLUSH_BYTES = 64 * 1024 ** 2;

/**
 * A file that is either whole under its final name or not there: written beside it, flushed to
 * disk, then given its name.
 */
export class WholeFile {
  private unflushedBytes = 0;
  private flushing: Promise<void> | null = null;

  private constructor(
    readonly handle: FileHandle,
    private readonly partPath: string,
    private readonly target: string,
    private readonly outlives: boolean,
  ) {}

  /** @param outlives false: it is gone again in a moment, and needn't outlive a power cut */
  static async create(target: string, outlives = true): Promise<WholeFile> {
    const partPath = join(dirname(target), `.${beginning(basename(target))}.${randomUUID().slice(0, 8)}.part`);
    return new WholeFile(await open(partPath, 'wx'), partPath, target, outlives);
  }

  /** Takes over a file that is complete, on the same disk as its final place. */
  static async adopt(path: string, target: string): Promise<WholeFile> {
    return new WholeFile(await open(path, 'r+'), path, target, true);
  }

  /** Writes all bytes at a place. @throws Refusal when the disk is full */
  async write(bytes: Uint8Array, position: number): Promise<void> {
    let done = 0;
    while (done < bytes.length) {
      const { bytesWritten } = await this.handle
        .write(bytes, done, bytes.length - done, position + done)
        .catch(diskFull(this.target));
      done += bytesWritten;
    }
    this.unflushedBytes += bytes.length;
    if (this.outlives && this.unflushedBytes >= FLUSH_BYTES && !this.flushing) this.flushInBackground();
  }

  /** So that the disk has most of a large file by the time its end is written. What fails here fails again when it is finished. */
  private flushInBackground(): void {
    this.unflushedBytes = 0;
    this.flushing = this.handle
      .datasync()
      .catch(() => undefined)
      .finally(() => {
        this.flushing = null;
      });
  }

  /** Takes all bytes of another file, by the system's own copying. @throws Refusal when the disk is full */
  async copyFrom(path: string): Promise<void> {
    const { mode } = await this.handle.stat();
    await copyFile(path, this.partPath, constants.COPYFILE_FICLONE).catch(diskFull(this.target));
    // The copy of what nobody may write is ours to write.
    await this.handle.chmod(mode);
  }

  /**
   * Gives the file its name.
   * @param overwrite false: a name that exists is kept and the new file gets ` (2)`, ` (3)`, ...
   * @returns the path the file got
   */
  async finish(overwrite: boolean): Promise<string> {
    await this.flushing;
    if (this.outlives) await this.handle.sync().catch(diskFull(this.target));
    await this.handle.close();
    const path = overwrite ? await this.replace() : await this.claimFreeName();
    if (this.outlives) await flushFolder(dirname(path));
    return path;
  }

  async discard(): Promise<void> {
    await this.flushing;
    await this.handle.close().catch(() => undefined);
    await rm(this.partPath, { force: true });
  }

  private async replace(): Promise<string> {
    await rename(this.partPath, this.target);
    return this.target;
  }

  private async claimFreeName(): Promise<string> {
    const extension = extname(this.target);
    const stem = this.target.slice(0, this.target.length - extension.length);
    for (let n = 1; ; n++) {
      const path = n === 1 ? this.target : `${stem} (${n})${extension}`;
      if (await claim(this.partPath, path)) return path;
    }
  }
}

// With what is added to it, a name that is as long as a disk takes.
const LONGEST_BEGINNING = 60;

/** Enough of a name to be recognised, where no more would fit. */
function beginning(name: string): string {
  return Buffer.byteLength(name) <= 220 ? name : name.slice(0, LONGEST_BEGINNING);
}

// Of file systems that know no hard links: exFAT, FAT, some shares.
const NO_LINKS = ['EPERM', 'ENOTSUP', 'EOPNOTSUPP', 'ENOSYS', 'EMLINK', 'EACCES'];

/**
 * Gives a file a name that is free. A hard link fails where the name exists, in one step: nobody can come in between. Where there are no hard links, a
 * marker beside it keeps others of ours out while the name is looked for. @returns false where the name is taken
 */
async function claim(partPath: string, path: string): Promise<boolean> {
  try {
    await link(partPath, path);
    await rm(partPath);
    return true;
  } catch (error) {
    const { code = '' } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST') return false;
    if (!NO_LINKS.includes(code)) throw error;
  }
  const marker = join(dirname(path), `.${beginning(basename(path))}.claim.part`);
  const held = await open(marker, 'wx').catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'EEXIST') return null;
    throw error;
  });
  if (!held) return false;
  try {
    if (
      await lstat(path).then(
        () => true,
        () => false,
      )
    )
      return false;
    await rename(partPath, path);
    return true;
  } finally {
    await held.close();
    await rm(marker, { force: true });
  }
}

function diskFull(target: string): (error: NodeJS.ErrnoException) => never {
  return (error) => {
    if (error.code === 'ENOSPC' || error.code === 'EDQUOT') {
      throw new Refusal(
        'no-room',
        `There is no room on the disk for ${basename(target)}. Free some and write it again.`,
      );
    }
    throw error;
  };
}

/** Flushes what a folder holds, so that a file's name outlives a power cut as its content does. */
export async function flushFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r');
  // Some shares cannot flush a folder.
  await handle
    .sync()
    .catch(() => undefined)
    .finally(() => handle.close());
}

/** Flushes a file that somebody else has written. */
export async function flushFile(path: string): Promise<void> {
  const handle = await open(path, 'r+');
  await handle.sync().finally(() => handle.close());
}

/** Writes a text in the place of whatever has that name. @throws Refusal where there is no room */
export async function writeWhole(target: string, text: string): Promise<void> {
  const file = await WholeFile.create(target);
  try {
    await file.write(new TextEncoder().encode(text), 0);
    await file.finish(true);
  } catch (error) {
    await file.discard();
    throw error;
  }
}

/** Moves a finished file to its final place on the same disk. @returns the path it got */
export async function moveWhole(from: string, target: string, overwrite: boolean): Promise<string> {
  return (await WholeFile.adopt(from, target)).finish(overwrite);
}

/** Copies a finished file to its final place, whole or not at all. @returns the path it got */
export async function adoptWhole(from: string, target: string, overwrite: boolean): Promise<string> {
  const file = await WholeFile.create(target);
  try {
    await file.copyFrom(from);
    return await file.finish(overwrite);
  } catch (error) {
    await file.discard();
    throw error;
  }
}
