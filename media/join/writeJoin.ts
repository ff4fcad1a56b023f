import { basename } from 'node:path';
import { encodeWords } from '@pocket-twin/core/pcm/encodeWords.ts';
import { bytesPerSample, type SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { carriedChunks } from '@pocket-twin/core/riff/carriedChunks.ts';
import { wavFrame } from '@pocket-twin/core/riff/wavFrame.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { Joining } from '@pocket-twin/core/schema/joining.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { triangularDither } from '@pocket-twin/core/signal/dither.ts';
import { sayBytes } from '@pocket-twin/core/pcm/sayBytes.ts';
import { roomBeside } from '../disk/roomKeeper.ts';
import { diskTrouble } from '../disk/diskTrouble.ts';
import { WholeFile } from '../disk/wholeFile.ts';
import { JoinedPart } from './joinedPart.ts';
import { PcmFile } from '../read/pcmFile.ts';

/** A file that becomes part of another. */
export interface JoinSource {
  name: string;
  pcm: PcmLocation;
  facts: ClipFacts;
}

const RUN_FRAMES = 16384;
const MOST_CHANNELS = 64;

/** @throws Refusal where files can't become one */
export function ensureJoinable(sources: readonly Pick<JoinSource, 'name' | 'pcm'>[]): void {
  if (sources.length < 2) throw new Refusal('bad-request', 'Joining needs two files or more.');
  const [first] = sources;
  const other = sources.find(({ pcm }) => pcm.sampleRate !== first.pcm.sampleRate);
  if (other)
    throw new Refusal(
      'bad-request',
      `${first.name} has ${first.pcm.sampleRate} samples a second and ${other.name} has ${other.pcm.sampleRate}: convert one first, for their sound to stay as it is.`,
    );
  const channels = sources.reduce((sum, { pcm }) => sum + pcm.channels, 0);
  if (channels > MOST_CHANNELS)
    throw new Refusal('bad-request', `Together the files have ${channels} channels; one file holds ${MOST_CHANNELS}.`);
}

/**
 * Writes files as one: their channels in order, each file after its silence, every sample as it was read; those of a file that is put in step to less
 * than a sample are calculated, and dithered where they become integers.
 * @returns the path the file got
 */
export async function writeJoin(
  sources: readonly JoinSource[],
  { padsFrames, frames }: Pick<Joining, 'padsFrames' | 'frames'>,
  target: string,
  overwrite: boolean,
  onShare: (share: number) => void = () => undefined,
): Promise<string> {
  const words = sources.map(({ pcm }) => pcm.words).reduce(widest);
  const channels = sources.reduce((sum, { pcm }) => sum + pcm.channels, 0);
  const frameBytes = channels * bytesPerSample(words);
  const tracks = sources
    .flatMap(({ facts, pcm }) => Array.from({ length: pcm.channels }, (_, c) => facts.trackNames[c] ?? null))
    .map((name, i) => ({ source: i + 1, name }));
  const [{ facts }] = sources;
  const startSamples = facts.startSamples === null ? null : Math.max(0, facts.startSamples - Math.round(padsFrames[0]));
  const { head, tail } = wavFrame({
    ...{ format: words, channels, sampleRate: sources[0].pcm.sampleRate, frames, speakerMask: 0 },
    chunks: carriedChunks([], { ...facts, startSamples }, tracks),
  });
  const files: PcmFile[] = [];
  const file = await WholeFile.create(target);
  try {
    for (const { pcm } of sources) files.push(await PcmFile.open(pcm));
    await ensureRoom(target, head.length + frames * frameBytes + tail.length);
    await file.write(head, 0);
    const parts = files.map((source, i) => new JoinedPart(source, padsFrames[i], RUN_FRAMES));
    const dithered = parts.flatMap((part) => Array<boolean>(part.channels).fill(part.isCalculated));
    const dither = triangularDither();
    const planes = Array.from({ length: channels }, () => new Float64Array(RUN_FRAMES));
    const run = new Uint8Array(RUN_FRAMES * frameBytes);
    for (let start = 0; start < frames; start += RUN_FRAMES) {
      const count = Math.min(RUN_FRAMES, frames - start);
      let first = 0;
      for (const part of parts) {
        await part.read(start, count, planes.slice(first, first + part.channels));
        first += part.channels;
      }
      encodeWords(planes, words, run, count, dither, dithered);
      await file.write(run.subarray(0, count * frameBytes), head.length + start * frameBytes);
      onShare((start + count) / frames);
    }
    await file.write(tail, head.length + frames * frameBytes);
    return await file.finish(overwrite);
  } catch (error) {
    await file.discard();
    throw diskTrouble(error, basename(target)) ?? error;
  } finally {
    for (const source of files) await source.close();
  }
}

/** Before anything is written. @throws Refusal where there is not so much room */
async function ensureRoom(target: string, bytes: number): Promise<void> {
  const room = await roomBeside(target);
  if (bytes <= room) return;
  throw new Refusal(
    'no-room',
    `There is no room for ${basename(target)}: it takes ${sayBytes(bytes)} and ${sayBytes(Math.max(0, room))} are free. Free some, or check the offset.`,
  );
}

/** Words that hold both as they are. */
function widest(a: SampleFormat, b: SampleFormat): SampleFormat {
  if (a.kind === b.kind) return a.bits >= b.bits ? a : b;
  const [float, integer] = a.kind === 'float' ? [a, b] : [b, a];
  return { kind: 'float', bits: integer.bits > 24 ? 64 : float.bits };
}
