import { readSync } from 'node:fs';
import type { FileHandle } from 'node:fs/promises';
import { WordMover } from '@pocket-twin/core/kernels/wordMover.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';

/** The most bytes that are asked for at once. */
export const PIECE_BYTES = 1 << 18;

/** Bytes in small pieces that lie near each other. */
export interface NearBytes {
  /** @param length up to `PIECE_BYTES` @returns what is there, fewer bytes at the end; good until the next reading */
  read(position: number, length: number): Buffer;
}

/** Reads a file in large pieces. @param offset where position nought lies in it */
export class NearReader implements NearBytes {
  private readonly buffer = Buffer.allocUnsafe(2 * PIECE_BYTES);
  private start = 0;
  private length = 0;

  constructor(
    private readonly file: FileHandle,
    private readonly offset = 0,
  ) {}

  read(position: number, length: number): Buffer {
    if (position < this.start || position + length > this.start + this.length) {
      this.start = position;
      this.length = readSync(this.file.fd, this.buffer, 0, this.buffer.length, this.offset + position);
    }
    const from = position - this.start;
    return this.buffer.subarray(from, Math.min(this.length, from + length));
  }
}

/** The words of some channels of a clip as a file of these alone would hold them. */
export class MovedReader implements NearBytes {
  private readonly mover: WordMover;
  private readonly frameBytes: number;
  private readonly clipFrameBytes: number;
  private start = 0;
  private frames = 0;

  /** @param inputs the clip's channels, from 0 */
  constructor(
    private readonly file: FileHandle,
    private readonly clip: PcmLocation,
    inputs: readonly number[],
  ) {
    const wordBytes = bytesPerSample(clip.words);
    this.frameBytes = inputs.length * wordBytes;
    this.clipFrameBytes = clip.channels * wordBytes;
    const framesPerRun = Math.ceil((2 * PIECE_BYTES) / this.frameBytes);
    this.mover = new WordMover(wordBytes, clip.channels, [[...inputs]], framesPerRun, 1);
  }

  read(position: number, length: number): Buffer {
    const [first, end] = [Math.floor(position / this.frameBytes), Math.ceil((position + length) / this.frameBytes)];
    if (first < this.start || end > this.start + this.frames) {
      const { offsetBytes, frames } = this.clip;
      this.start = first;
      const wanted = Math.max(0, Math.min(this.mover.framesPerRun, frames - first)) * this.clipFrameBytes;
      const bytes = readSync(this.file.fd, this.mover.inputs[0], 0, wanted, offsetBytes + first * this.clipFrameBytes);
      this.frames = Math.floor(bytes / this.clipFrameBytes);
      this.mover.move(0, this.frames);
    }
    const [moved] = this.mover.outputs[0];
    const from = position - this.start * this.frameBytes;
    const until = Math.min(from + length, this.frames * this.frameBytes);
    return Buffer.from(moved.buffer, moved.byteOffset + from, Math.max(0, until - from));
  }
}
