import '../threads/fullSpeedKernels.ts';
import { WordMover } from '@pocket-twin/core/kernels/wordMover.ts';
import { WordEncoder } from '@pocket-twin/core/kernels/wordCoder.ts';
import { bytesPerSample, type SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { calculatedSpans, exactOutside, exactPlan, onlyMoves } from '@pocket-twin/core/repair/plan/exactPlan.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';
import type { PcmFile } from '../read/pcmFile.ts';
import { routedBlocks, SIZE } from './routedBlocks.ts';

export interface RenderPlan {
  repair: Repair;
  /** How the output's words are stored. */
  words: SampleFormat;
  levelGainDb: number;
}

/** A run of output words for each output file. */
export interface OutputRun {
  startFrame: number;
  frames: number;
  outputs: Uint8Array[];
  /** Values of each that lay beyond what its words hold. */
  held: number[];
}

const RUN_BYTES = 1 << 20;

/** Every word written is one that was read, turned over or moved by whole samples at most. */
function isExact(plan: RenderPlan, source: SampleFormat): boolean {
  return exactPlan(plan.repair) !== null && keepsWords(plan, source);
}

/**
 * The fades of an output file outside of which every word written is one that was read; none where all of them are.
 * @returns null where samples are calculated elsewhere as well
 */
export function writtenExactOutside(
  plan: RenderPlan,
  file: number,
  source: SampleFormat,
  frames: number,
): FrameSpan[] | null {
  if (!keepsWords(plan, source)) return null;
  const outside = exactOutside(plan.repair, channelsOf(plan.repair, file));
  return outside && outside.filter(({ startFrame }) => startFrame < frames);
}

/** The source's channels (from 0) that the channels of a file are, where they are moved word by word and nothing else; else null. */
export function movedInputs(plan: RenderPlan, file: number, source: SampleFormat): number[] | null {
  const feeds = exactPlan(plan.repair);
  if (feeds === null || !keepsWords(plan, source) || !onlyMoves(feeds)) return null;
  return feeds[file].map(({ input }) => input!);
}

function keepsWords({ levelGainDb, words }: RenderPlan, source: SampleFormat): boolean {
  return levelGainDb === 0 && words.kind === source.kind && words.bits === source.bits;
}

/** The output channels of one file, counted over all files. */
function channelsOf({ outputs }: Repair, file: number): number[] {
  const first = outputs.slice(0, file).reduce((sum, { routes }) => sum + routes.length, 0);
  return outputs[file].routes.map((_, i) => first + i);
}

/** Whether words of one kind hold all that words of the other do. */
function holdsAll(words: SampleFormat, source: SampleFormat): boolean {
  return words.kind === source.kind && words.bits >= source.bits;
}

/**
 * Where each channel of a file is dithered: integers are where values are calculated or words get shorter, and nowhere else (TPDF; Lipshitz,
 * Wannamaker and Vanderkooy 1992).
 */
function ditheredSpans({ repair, words, levelGainDb }: RenderPlan, file: number, source: SampleFormat): FrameSpan[][] {
  return channelsOf(repair, file).map((channel) => {
    if (words.kind !== 'integer') return [];
    if (levelGainDb !== 0 || !holdsAll(words, source)) return [{ startFrame: 0, endFrame: Infinity }];
    return calculatedSpans(repair, channel);
  });
}

/**
 * The output of a repair, run by run; the same plan on the same source always gives the same
 * bytes, so the writer writes them and the proof compares them. A run stays valid until the
 * second run after it.
 */
export function renderRuns(source: PcmFile, plan: RenderPlan): AsyncGenerator<OutputRun> {
  const feeds = exactPlan(plan.repair);
  return feeds && isExact(plan, source.location.words) && onlyMoves(feeds)
    ? movedRuns(
        source,
        feeds.map((channels) => channels.map(({ input }) => input!)),
      )
    : calculatedRuns(source, plan);
}

/** Three slots: one being read, one moved, one written. */
async function* movedRuns(source: PcmFile, files: number[][]): AsyncGenerator<OutputRun> {
  const { channels, words, frames } = source.location;
  const framesPerRun = Math.max(1, Math.floor(RUN_BYTES / source.frameBytes));
  const slots = 3;
  const mover = new WordMover(bytesPerSample(words), channels, files, framesPerRun, slots);
  const wordBytes = bytesPerSample(words);
  let slot = 0;
  let pending = source.read(0, framesPerRun, mover.inputs[0]);
  for (let start = 0; start < frames;) {
    const count = await pending;
    if (count === 0) throw new Error(`The source ended at frame ${start} of ${frames}.`);
    const current = slot;
    slot = (slot + 1) % slots;
    pending = source.read(start + count, framesPerRun, mover.inputs[slot]);
    mover.move(current, count);
    yield {
      startFrame: start,
      frames: count,
      outputs: mover.outputs[current].map((output, file) => output.subarray(0, count * files[file].length * wordBytes)),
      held: files.map(() => 0),
    };
    start += count;
  }
  await pending;
}

async function* calculatedRuns(source: PcmFile, plan: RenderPlan): AsyncGenerator<OutputRun> {
  const encoders = plan.repair.outputs.map((output, file) => ({
    channels: output.routes.length,
    words: new WordEncoder(plan.words, output.routes.length, SIZE, 2),
    dithered: ditheredSpans(plan, file, source.location.words),
  }));
  const cuts = [
    ...new Set(
      encoders.flatMap(({ dithered }) => dithered.flat().flatMap(({ startFrame, endFrame }) => [startFrame, endFrame])),
    ),
  ].sort((a, b) => a - b);
  let slot = 0;
  for await (const { startFrame, frames, channels } of routedBlocks(source, plan.repair, plan.levelGainDb)) {
    const slices = slicesOf(startFrame, startFrame + frames, cuts);
    let first = 0;
    const held: number[] = [];
    const outputs = encoders.map((encoder) => {
      const mine = channels.slice(first, first + encoder.channels);
      first += encoder.channels;
      let beyond = 0;
      for (const { startFrame: from, endFrame: to } of slices) {
        const [a, b] = [from - startFrame, to - startFrame];
        beyond += encoder.words.encode(
          slot,
          mine.map((plane) => plane.subarray(a, b)),
          a,
          encoder.dithered.map((spans) => spans.some((span) => span.startFrame <= from && to <= span.endFrame)),
        );
      }
      held.push(beyond);
      return encoder.words.output(slot, frames);
    });
    yield { startFrame, frames, outputs, held };
    slot = 1 - slot;
  }
}

/** A run cut where dither begins or ends. */
function slicesOf(startFrame: number, endFrame: number, cuts: readonly number[]): FrameSpan[] {
  const inside = cuts.filter((cut) => cut > startFrame && cut < endFrame);
  return [startFrame, ...inside].map((from, i) => ({ startFrame: from, endFrame: inside[i] ?? endFrame }));
}
