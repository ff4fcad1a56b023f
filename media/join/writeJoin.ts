import { basename } from 'node:path';
import { decodeWords } from '@pocket-twin/core/pcm/decodeWords.ts';
import { encodeWords } from '@pocket-twin/core/pcm/encodeWords.ts';
import { bytesPerSample, type SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { carriedChunks } from '@pocket-twin/core/riff/carriedChunks.ts';
import { wavFrame } from '@pocket-twin/core/riff/wavFrame.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { Joining } from '@pocket-twin/core/schema/joining.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { diskTrouble } from '../disk/diskTrouble.ts';
import { WholeFile } from '../disk/wholeFile.ts';
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
 * Writes files as one: their channels in order, each file after its silence, every sample as it was read.
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
  const startSamples = facts.startSamples === null ? null : Math.max(0, facts.startSamples - padsFrames[0]);
  const { head, tail } = wavFrame({
    ...{ format: words, channels, sampleRate: sources[0].pcm.sampleRate, frames, speakerMask: 0 },
    chunks: carriedChunks([], { ...facts, startSamples }, tracks),
  });
  const files: PcmFile[] = [];
  const file = await WholeFile.create(target);
  try {
    for (const { pcm } of sources) files.push(await PcmFile.open(pcm));
    await file.write(head, 0);
    const planes = Array.from({ length: channels }, () => new Float64Array(RUN_FRAMES));
    const bytes = files.map(({ frameBytes: each }) => new Uint8Array(RUN_FRAMES * each));
    const run = new Uint8Array(RUN_FRAMES * frameBytes);
    for (let start = 0; start < frames; start += RUN_FRAMES) {
      const count = Math.min(RUN_FRAMES, frames - start);
      let first = 0;
      for (const [i, source] of files.entries()) {
        const mine = planes.slice(first, first + source.location.channels);
        first += source.location.channels;
        const silent = Math.max(0, Math.min(count, padsFrames[i] - start));
        for (const plane of mine) plane.fill(0);
        const got = await source.read(start + silent - padsFrames[i], count - silent, bytes[i]);
        decodeWords(
          bytes[i],
          source.location.words,
          mine.map((plane) => plane.subarray(silent)),
          got,
        );
      }
      encodeWords(
        planes,
        words,
        run,
        count,
        () => 0,
        planes.map(() => false),
      );
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

/** Words that hold both as they are. */
function widest(a: SampleFormat, b: SampleFormat): SampleFormat {
  if (a.kind === b.kind) return a.bits >= b.bits ? a : b;
  const [float, integer] = a.kind === 'float' ? [a, b] : [b, a];
  return { kind: 'float', bits: integer.bits > 24 ? 64 : float.bits };
}
