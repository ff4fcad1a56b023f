import type { SoundReader } from '@pocket-twin/core/measure/secondLook.ts';
import { decodeWords } from '@pocket-twin/core/pcm/decodeWords.ts';
import type { PcmFile } from './pcmFile.ts';

/** Reads stretches of some of a clip's channels, with zeros before its start and after its end. */
export function soundReader(file: PcmFile): SoundReader {
  const { channels: width, words } = file.location;
  return async (startFrame, frames, channels) => {
    const first = Math.max(0, startFrame);
    const wanted = Math.max(0, startFrame + frames - first);
    const bytes = new Uint8Array(wanted * file.frameBytes);
    const count = await file.read(first, wanted, bytes);
    const planar = Array.from({ length: width }, () => new Float64Array(count));
    decodeWords(bytes.subarray(0, count * file.frameBytes), words, planar, count);
    return channels.map((channel) => {
      const sound = new Float64Array(frames);
      sound.set(planar[channel - 1], first - startFrame);
      return sound;
    });
  };
}
