import type { SoundReader } from '@pocket-twin/core/measure/soundReader.ts';
import { decodeChannel } from '@pocket-twin/core/pcm/decodeWords.ts';
import type { PcmFile } from './pcmFile.ts';

/** Reads stretches of some of a clip's channels, with zeros before its start and after its end. */
export function soundReader(file: PcmFile): SoundReader {
  const { channels: width, words } = file.location;
  // Kept for the next read: frames of many channels would leave half a gigabyte behind.
  let bytes = new Uint8Array();
  return async (startFrame, frames, channels) => {
    const first = Math.max(0, startFrame);
    const wanted = Math.max(0, startFrame + frames - first);
    if (bytes.length < wanted * file.frameBytes) bytes = new Uint8Array(wanted * file.frameBytes);
    const count = file.readWaiting(first, wanted, bytes);
    return channels.map((channel) => {
      const sound = new Float64Array(frames);
      decodeChannel(bytes, words, channel - 1, width, sound.subarray(first - startFrame), count);
      return sound;
    });
  };
}
