import { mkdtemp, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeWords } from '@pocket-twin/core/pcm/encodeWords.ts';
import { bytesPerSample, type SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { wavFrame, type KeptChunk } from '@pocket-twin/core/riff/wavFrame.ts';

export const INT24: SampleFormat = { kind: 'integer', bits: 24 };

export function scratchFolder(): Promise<string> {
  return mkdtemp(join(tmpdir(), 'pocket-twin-test-'));
}

/** The bytes of a WAV file with the given channels. */
export function wavBytes(
  channels: Float64Array[],
  format = INT24,
  chunks: KeptChunk[] = [],
  sampleRate = 48000,
): Buffer {
  const frames = channels[0].length;
  const { head, tail } = wavFrame({ format, channels: channels.length, sampleRate, frames, speakerMask: 0, chunks });
  const body = new Uint8Array(frames * channels.length * bytesPerSample(format));
  encodeWords(channels, format, body, frames, () => 0);
  return Buffer.concat([head, body, tail]);
}

export async function writeTestWav(path: string, ...wav: Parameters<typeof wavBytes>): Promise<string> {
  await writeFile(path, wavBytes(...wav));
  return path;
}
