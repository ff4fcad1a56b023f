import { basename } from 'node:path';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { readWav, type WavLayout } from '@pocket-twin/core/riff/readWav.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { ClipFormat } from '@pocket-twin/core/schema/inspection.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { codedSource } from './codedSource.ts';
import { identifyContainer } from './container.ts';
import { FileSource } from './fileSource.ts';
import { wavSource } from './wavSource.ts';

/** A recording opened for reading from its first frame to its last. */
export interface Source {
  path: string;
  name: string;
  format: ClipFormat;
  facts: ClipFacts;
  /** How the words in `runs` are stored. */
  words: SampleFormat;
  /** The chunks of a WAV; null for all else. */
  wav: WavLayout | null;
  /**
   * Whole frames of interleaved words, a run at a time. A run is only valid until the next one.
   * After the last, `format.frames` and `format.warning` are what was really there.
   * A WAV can be read in parts, from one frame up to another, and into `buffers` by turns; all else is decoded from its start.
   */
  runs(startFrame: number, endFrame: number, buffers: Uint8Array[]): AsyncGenerator<Uint8Array>;
  close(): Promise<void>;
}

const LEAST_RATE = 8000;
const MOST_RATE = 192_000;

/** @throws Refusal naming the file when there is nothing in it that can be read */
export async function openSource(path: string): Promise<Source> {
  const file = await FileSource.open(path);
  const name = basename(path);
  try {
    const source = await openIdentified(path, name, file);
    const { sampleRate } = source.format;
    if (sampleRate < LEAST_RATE || sampleRate > MOST_RATE) {
      throw new Refusal('not-allowed', `${name} has a sample rate of ${sampleRate / 1000} kHz; 8 to 192 kHz can be read. Export it at 48 kHz.`);
    }
    return source;
  } catch (error) {
    await file.close().catch(() => undefined);
    throw error;
  }
}

async function openIdentified(path: string, name: string, file: FileSource): Promise<Source> {
  const container = await identifyContainer(file, name);
  if (container.demuxer === null) return wavSource(path, file, await readWav(file, name));
  await file.close();
  return codedSource(path, container.name, { path, demuxer: container.demuxer });
}
