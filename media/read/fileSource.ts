import { constants } from 'node:fs';
import { open, type FileHandle } from 'node:fs/promises';
import { basename } from 'node:path';
import type { ByteSource } from '@pocket-twin/core/riff/byteSource.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';

/** A file opened for reading only. Originals are never opened any other way. */
export class FileSource implements ByteSource {
  private constructor(
    readonly handle: FileHandle,
    readonly size: number,
  ) {}

  /** @throws Refusal naming the file when it is missing, no file, empty or not readable */
  static async open(path: string): Promise<FileSource> {
    const name = basename(path);
    // A pipe is opened without waiting for whoever writes into it, to be refused.
    const handle = await open(path, constants.O_RDONLY | constants.O_NONBLOCK).catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT')
        throw new Refusal('not-found', `${name} is not there. Check the name and the folder.`);
      throw new Refusal('not-found', `${name} can’t be opened (${error.code}). Check who may read it.`);
    });
    const stat = await handle.stat();
    if (stat.isFile() && stat.size > 0) return new FileSource(handle, stat.size);
    await handle.close();
    if (!stat.isFile())
      throw new Refusal(
        'not-audio',
        stat.isDirectory()
          ? `${name} is a folder. Choose the files inside it.`
          : `${name} is not a file but a pipe or a device. Choose a recording.`,
      );
    throw new Refusal('empty-file', `${name} is empty. Copy it from the card again.`);
  }

  async read(offset: number, length: number): Promise<Uint8Array> {
    const bytes = new Uint8Array(Math.max(0, Math.min(length, this.size - offset)));
    const { bytesRead } = await this.handle.read(bytes, 0, bytes.length, offset);
    return bytes.subarray(0, bytesRead);
  }

  close(): Promise<void> {
    return this.handle.close();
  }
}
