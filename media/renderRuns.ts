import { WordMover } from '@pocket-twin/core/kernels/wordMover.ts';
import { decodeWords } from '@pocket-twin/core/pcm/decodeWords.ts';
import { encodeWords } from '@pocket-twin/core/pcm/encodeWords.ts';
import { bytesPerSample, type SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { exactPlan } from '@pocket-twin/core/repair/exactPlan.ts';
import { Router } from '@pocket-twin/core/repair/router.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { triangularDither } from '@pocket-twin/core/signal/dither.ts';
import type { PcmFile } from './pcmFile.ts';

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
}

const RUN_BYTES = 1 << 20;
const FRAMES_PER_CALCULATED_RUN = 16384;

export function isExact(plan: RenderPlan, source: SampleFormat): boolean {
  return exactPlan(plan.repair) !== null && plan.levelGainDb === 0
    && plan.words.kind === source.kind && plan.words.bits === source.bits;
}

/**
 * The output of a repair, run by run; the same plan on the same source always gives the same
 * bytes, so the writer writes them and the proof compares them. A run stays valid until the
 * second run after it.
 */
export function renderRuns(source: PcmFile, plan: RenderPlan): AsyncGenerator<OutputRun> {
  return isExact(plan, source.location.words) ? movedRuns(source, exactPlan(plan.repair)!) : calculatedRuns(source, plan);
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
    };
    start += count;
  }
  await pending;
}

async function* calculatedRuns(source: PcmFile, plan: RenderPlan): AsyncGenerator<OutputRun> {
  const { channels, frames } = source.location;
  const size = FRAMES_PER_CALCULATED_RUN;
  const router = new Router(plan.repair, plan.levelGainDb);
  const planes = (count: number): Float64Array[] => Array.from({ length: count }, () => new Float64Array(size));
  const inputs = planes(channels);
  const routed = planes(router.outputChannels);
  const bytes = new Uint8Array(size * source.frameBytes);
  const encoders = plan.repair.outputs.map((output) => ({
    channels: output.routes.length,
    dither: plan.words.kind === 'integer' ? triangularDither() : () => 0,
    slots: [0, 1].map(() => new Uint8Array(size * output.routes.length * bytesPerSample(plan.words))),
  }));
  let slot = 0;
  let startFrame = 0;
  for (let read = 0; startFrame < frames; read += size) {
    const count = await source.read(read, size, bytes);
    decodeWords(bytes, source.location.words, inputs, count);
    // Past the end comes silence, to push out what the router still holds.
    for (const input of inputs) input.fill(0, count);
    router.process(inputs, routed, size);
    // The router's latency is dropped at the start, so that the length and the sync stay.
    const skip = Math.max(0, Math.min(size, router.latencyFrames - read));
    const kept = Math.min(size - skip, frames - startFrame);
    if (kept <= 0) continue;
    let first = 0;
    const outputs = encoders.map((encoder) => {
      const mine = routed.slice(first, first + encoder.channels).map((plane) => plane.subarray(skip));
      first += encoder.channels;
      const target = encoder.slots[slot].subarray(0, kept * encoder.channels * bytesPerSample(plan.words));
      encodeWords(mine, plan.words, target, kept, encoder.dither);
      return target;
    });
    yield { startFrame, frames: kept, outputs };
    startFrame += kept;
    slot = 1 - slot;
  }
}
