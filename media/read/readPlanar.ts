import { decodeWords } from '@pocket-twin/core/pcm/decodeWords.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { PcmFile } from './pcmFile.ts';

/** Frames of a clip as 32-bit floats, all of channel 1, then all of channel 2, ... Fewer than asked for at the end. */
export async function readPlanar(location: PcmLocation, start: number, frames: number): Promise<Buffer> {
  const file = await PcmFile.open(location);
  try {
    const bytes = new Uint8Array(frames * file.frameBytes);
    const count = await file.read(start, frames, bytes);
    const samples = new Float32Array(count * location.channels);
    const planar = Array.from({ length: location.channels }, (_, c) => samples.subarray(c * count, (c + 1) * count));
    decodeWords(bytes, location.words, planar, count);
    return Buffer.from(samples.buffer);
  } finally {
    await file.close();
  }
}
