import { readFile, writeFile } from 'node:fs/promises';
import { deserialize, serialize } from 'node:v8';
import type { ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';

// An hour of stereo adds up to under three megabytes; what is larger is measured again instead of being held in memory beside the sound.
const LARGEST_BYTES = 32 * 1024 ** 2;
const BYTES_A_VALUE = 8;
const SERIES_A_CHANNEL = 3;

/** Whether sums are small enough to be kept for what is written later. */
export function canKeepSums({ channels, pairs }: ClipSums): boolean {
  const blocks = channels[0]?.power.length ?? 0;
  return blocks * SERIES_A_CHANNEL * (channels.length + pairs.length) * BYTES_A_VALUE <= LARGEST_BYTES;
}

/** Keeps what measuring a clip has added up: what is written from its channels then need not be measured from its sound. Only a help: losing it costs time. */
export async function keepSums(path: string, sums: ClipSums): Promise<void> {
  if (canKeepSums(sums)) await writeFile(path, serialize(sums));
}

/** null where none are kept, or they are of another clip. */
export async function readSums(path: string, { frames, channels, sampleRate }: PcmLocation): Promise<ClipSums | null> {
  const bytes = await readFile(path).catch(() => null);
  if (bytes === null) return null;
  try {
    const sums = deserialize(bytes) as ClipSums;
    return sums.frames === frames && sums.channels.length === channels && sums.sampleRate === sampleRate ? sums : null;
  } catch {
    return null;
  }
}
