import { basename } from 'node:path';
import { codecName } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { broadcastFacts } from '@pocket-twin/core/riff/broadcastFacts.ts';
import type { WavLayout } from '@pocket-twin/core/riff/readWav.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { FileSource } from './fileSource.ts';
import { ensureRate } from './sampleRates.ts';
import type { Source } from './source.ts';
import { wavRuns } from './wavRuns.ts';

const LARGEST_FACTS_BYTES = 1 << 20;
// Less is what copying leaves, and no sound that anybody would miss.
const MOST_STRAY_BYTES = 64 * 1024;

/** A WAV is read as it lies. */
export async function wavSource(path: string, file: FileSource, wav: WavLayout): Promise<Source> {
  const name = basename(path);
  const { sampleRate, channels, frames } = wav;
  ensureRate(name, sampleRate);
  if (frames === 0)
    throw new Refusal('damaged', `${name} holds no sound: it was cut off. Copy it from the card again.`);
  return {
    path,
    name,
    format: {
      container: 'wav',
      codec: codecName(wav.format),
      sampleRate,
      channels,
      bitDepth: wav.format.bits,
      frames,
      durationSeconds: frames / sampleRate,
      hasVideo: false,
      warning: warningOf(name, wav),
    },
    facts: broadcastFacts({ bext: await bodyOf('bext', file, wav), ixml: await bodyOf('iXML', file, wav) }, channels),
    words: wav.format,
    wav,
    expectedBytes: 0,
    runs: (part, buffers) => wavRuns(file.handle.fd, wav, part, buffers),
    close: () => file.close(),
  };
}

/** What a person should know of a header that was not taken at its word. */
function warningOf(
  name: string,
  { frames, promisedFrames, sampleRate, wrapped, strayBytes, depthDoubtful, format }: WavLayout,
): string | null {
  const seconds = (count: number): string => (count / sampleRate).toFixed(1);
  const sentences = [
    promisedFrames > frames &&
      `${name} is cut off: ${seconds(frames)} of ${seconds(promisedFrames)} s are there. Copy it from the card again if you need the rest.`,
    wrapped &&
      `${name} is longer than its header can say (over 4 GiB); all ${seconds(frames)} s are read. Other programs may cut it short: save it as RF64.`,
    depthDoubtful &&
      `The header of ${name} contradicts itself; it is read as ${format.bits} bit. Listen before you use it.`,
    strayBytes > MOST_STRAY_BYTES &&
      `${name} goes on for ${(strayBytes / 1e6).toFixed(1)} MB behind what its header calls sound; that is not read. Export it again if something is missing.`,
  ];
  return sentences.filter(Boolean).join(' ') || null;
}

async function bodyOf(id: string, file: FileSource, { chunks }: WavLayout): Promise<Uint8Array | null> {
  const chunk = chunks.find((one) => one.id === id);
  return chunk ? file.read(chunk.offset, Math.min(chunk.bytes, LARGEST_FACTS_BYTES)) : null;
}
