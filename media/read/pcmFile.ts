import { readSync } from 'node:fs';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { FileSource } from './fileSource.ts';
import type { FileStamp } from '@pocket-twin/core/contract/jobs.ts';
import { ensureSameFile } from '../disk/fileStamp.ts';

/** Random access to a clip's frames. */
export class PcmFile {
  readonly frameBytes: number;

  private constructor(
    private readonly file: FileSource,
    readonly location: PcmLocation,
  ) {
    this.frameBytes = location.channels * bytesPerSample(location.words);
  }

  static async open(location: PcmLocation): Promise<PcmFile> {
    return new PcmFile(await FileSource.open(location.path), location);
  }

  /** Reads up to `frames` frames from `start` into `bytes`. @returns how many there were */
  async read(start: number, frames: number, bytes: Uint8Array): Promise<number> {
    const { at, length } = this.place(start, frames);
    let done = 0;
    while (done < length) {
      const { bytesRead } = await this.file.handle.read(bytes, done, length - done, at + done);
      if (bytesRead === 0) break;
      done += bytesRead;
    }
    return Math.floor(done / this.frameBytes);
  }

  /** The same with the thread waiting for the disk: of many short stretches each is read in less time than it takes to be told of it. For threads that answer nobody meanwhile. */
  readWaiting(start: number, frames: number, bytes: Uint8Array): number {
    const { at, length } = this.place(start, frames);
    let done = 0;
    while (done < length) {
      const bytesRead = readSync(this.file.handle.fd, bytes, done, length - done, at + done);
      if (bytesRead === 0) break;
      done += bytesRead;
    }
    return Math.floor(done / this.frameBytes);
  }

  /** Where frames lie in the file, as far as there are any. */
  private place(start: number, frames: number): { at: number; length: number } {
    const count = Math.max(0, Math.min(frames, this.location.frames - start));
    return { at: this.location.offsetBytes + start * this.frameBytes, length: count * this.frameBytes };
  }

  /** @throws Refusal where the file is no longer what was measured, or no longer the one at its path */
  ensureSame(measured: FileStamp): Promise<void> {
    return ensureSameFile(this.file.handle, this.location.path, measured);
  }

  close(): Promise<void> {
    return this.file.close();
  }
}
