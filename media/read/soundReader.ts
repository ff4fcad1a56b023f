import { ChannelDecoder } from '@pocket-twin/core/kernels/wordCoder.ts';
import type { SoundReader } from '@pocket-twin/core/measure/soundReader.ts';
import type { PcmFile } from './pcmFile.ts';

// Most that is read at once is shorter.
const USUAL_FRAMES = 32768;

/** Reads stretches of some of a clip's channels, with zeros before its start and after its end. */
export function soundReader(file: PcmFile): SoundReader {
  const { channels: width, words } = file.location;
  // Kept for the next read: frames of many channels would leave half a gigabyte behind.
  let decoder: ChannelDecoder | null = null;
  return async (startFrame, frames, channels, into) => {
    const first = Math.max(0, startFrame);
    const wanted = Math.max(0, startFrame + frames - first);
    if (!decoder || decoder.mostFrames < wanted)
      decoder = new ChannelDecoder(words, width, Math.max(USUAL_FRAMES, wanted));
    const reader = decoder;
    const count = file.readWaiting(first, wanted, reader.input);
    return channels.map((channel, c) => {
      const sound = into?.[c].fill(0) ?? new Float64Array(frames);
      if (count > 0) sound.set(reader.decode(channel - 1, count), first - startFrame);
      return sound;
    });
  };
}
