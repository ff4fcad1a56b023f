import { readSync } from 'node:fs';
import { basename } from 'node:path';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { bytesPerSample, codecName } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { broadcastFacts } from '@pocket-twin/core/riff/broadcastFacts.ts';
import type { ClipPart } from '@pocket-twin/core/measure/stream/clipParts.ts';
import type { WavLayout } from '@pocket-twin/core/riff/readWav.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { FileSource } from './fileSource.ts';
import { ensureRate } from './sampleRates.ts';
import type { Source } from './source.ts';

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
    runs: (part, buffers) => fileRuns(file, wav, part, buffers),
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

// What is read while everything else waits: a tenth of a second of work.
const BYTES_BETWEEN_TURNS = 16 << 20;

/**
 * Reads as it goes: sound that comes through another thread is out of this core's cache when it is measured, and costs a fifth more. The system reads
 * ahead by itself. Whatever else waits has its turn now and then.
 */
async function* fileRuns(
  file: FileSource,
  wav: WavLayout,
  part: Pick<ClipPart, 'readFrame' | 'endFrame'>,
  buffers: Uint8Array[],
): AsyncGenerator<Uint8Array> {
  const frameBytes = wav.channels * bytesPerSample(wav.format);
  const end = (): number => wav.dataOffset + Math.min(part.endFrame, wav.frames) * frameBytes;
  let offset = wav.dataOffset + part.readFrame * frameBytes;
  let sinceTurn = 0;
  const [buffer] = buffers;
  while (offset < end()) {
    const bytesRead = readSync(file.handle.fd, buffer, 0, Math.min(buffer.length, end() - offset), offset);
    const whole = bytesRead - (bytesRead % frameBytes);
    if (whole === 0) return;
    offset += whole;
    sinceTurn += whole;
    if (sinceTurn >= BYTES_BETWEEN_TURNS) {
      sinceTurn = 0;
      await nextTurn();
    }
    yield buffer.subarray(0, whole);
  }
}

async function bodyOf(id: string, file: FileSource, { chunks }: WavLayout): Promise<Uint8Array | null> {
  const chunk = chunks.find((one) => one.id === id);
  return chunk ? file.read(chunk.offset, Math.min(chunk.bytes, LARGEST_FACTS_BYTES)) : null;
}
