import { ChannelDecoder } from '@pocket-twin/core/kernels/wordCoder.ts';
import type { SoundReader } from '@pocket-twin/core/measure/soundReader.ts';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { PcmFile } from './pcmFile.ts';

// Most that is read at once is shorter.
const USUAL_FRAMES = 32768;

/** Reads stretches of some of a clip's channels, with zeros before its start and after its end. */
export function soundReader(file: PcmFile): SoundReader {
  const { channels: width, words } = file.location;
  return async (startFrame, frames, channels, into) => {
    const first = Math.max(0, startFrame);
    const wanted = Math.max(0, startFrame + frames - first);
    const reader = decoderFor(words, width, wanted);
    const count = file.readWaiting(first, wanted, reader.input);
    return channels.map((channel, c) => {
      const sound = into?.[c] ?? new Float64Array(frames);
      const before = Math.min(first - startFrame, sound.length);
      sound.fill(0, 0, before);
      if (count > 0) sound.set(reader.decode(channel - 1, count), before);
      return sound.fill(0, before + count);
    });
  };
}

let last: { key: string; decoder: ChannelDecoder } | null = null;

/**
 * The decoder of the read before, where it serves: frames of many channels would leave half a gigabyte behind, and a folder of clips as much. For use within
 * one synchronous step.
 */
function decoderFor(words: SampleFormat, channels: number, frames: number): ChannelDecoder {
  const key = `${words.kind} ${words.bits} ${channels}`;
  if (last?.key !== key || last.decoder.mostFrames < frames)
    last = { key, decoder: new ChannelDecoder(words, channels, Math.max(USUAL_FRAMES, frames)) };
  return last.decoder;
}
