import { open, type FileHandle } from 'node:fs/promises';
import { basename } from 'node:path';
import { readWav } from '@pocket-twin/core/riff/readWav.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { FFMPEG, reading, type CodedInput } from '../ffmpeg/coded.ts';
import { Run } from '../ffmpeg/run.ts';
import { hashOf, PICTURE_PACKETS } from './pictureHash.ts';
import { FileSource } from '../read/fileSource.ts';

/** How the sound of a written film compares with what it was made from. */
export interface ProvenSound {
  /** What is there. */
  frames: number;
  /** Of those that were wanted: other ones, or missing. */
  differingFrames: number;
}

export interface ProvenFilm {
  /** An XXH128 over the packets of its picture. */
  pictureHash: string;
  sounds: ProvenSound[];
}

/**
 * Reads a written film back, picture and sound in one go: hashes the packets of its picture, and compares its sound streams, word by word, with the
 * WAVs that they were made from. @param wavPaths of its sound streams whose words come back as they went in; none are compared otherwise @param words what the WAVs hold
 */
export async function proveFilm(film: CodedInput, wavPaths: readonly string[], words: string): Promise<ProvenFilm> {
  const copies = wavPaths.flatMap((_, i) => [
    ...['-map', `0:a:${i}`, '-c:a', words, '-f', words.replace(/^pcm_/, ''), `pipe:${3 + i}`],
  ]);
  const run = new Run(FFMPEG, [...reading(film), ...PICTURE_PACKETS, ...copies], basename(film.path), wavPaths.length);
  // All outlets are read as they come: a full one would hold up the others.
  const sounds = wavPaths.map(async (path, i) => {
    const comparison = await SoundComparison.with(path);
    try {
      for await (const piece of run.outlet(i) as AsyncIterable<Buffer>) await comparison.add(piece);
      return comparison.result();
    } finally {
      await comparison.close();
    }
  });
  const picture = await hashOf(run.pieces());
  const proven = await Promise.all(sounds);
  await run.complaint();
  return { pictureHash: picture, sounds: proven };
}

/** Holds the words of a stream, as they come, against those of a WAV. */
class SoundComparison {
  private position = 0;
  private differingFrames = 0;
  private lastDiffering = -1;
  private expected = Buffer.alloc(0);

  private constructor(
    private readonly handle: FileHandle,
    private readonly dataOffset: number,
    private readonly frameBytes: number,
    private readonly wantedFrames: number,
  ) {}

  static async with(wavPath: string): Promise<SoundComparison> {
    const file = await FileSource.open(wavPath);
    const { dataOffset, channels, format, frames } = await readWav(file, basename(wavPath)).finally(() => file.close());
    return new SoundComparison(await open(wavPath, 'r'), dataOffset, channels * bytesPerSample(format), frames);
  }

  async add(piece: Buffer): Promise<void> {
    if (this.expected.length < piece.length) this.expected = Buffer.alloc(piece.length);
    const left = this.wantedFrames * this.frameBytes - this.position;
    const { bytesRead } = await this.handle.read(
      this.expected,
      0,
      Math.max(0, Math.min(piece.length, left)),
      this.dataOffset + this.position,
    );
    if (piece.compare(this.expected, 0, bytesRead, 0, bytesRead) !== 0)
      for (let i = 0; i < bytesRead; i++) {
        const frame = Math.floor((this.position + i) / this.frameBytes);
        if (piece[i] === this.expected[i] || frame === this.lastDiffering) continue;
        this.lastDiffering = frame;
        this.differingFrames++;
      }
    this.position += piece.length;
  }

  result(): ProvenSound {
    const frames = Math.floor(this.position / this.frameBytes);
    return { frames, differingFrames: this.differingFrames + Math.max(0, this.wantedFrames - frames) };
  }

  close(): Promise<void> {
    return this.handle.close();
  }
}
