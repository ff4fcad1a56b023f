import { emptyEquations, type FilterExample } from '../../kernels/leastSquares.ts';
import { dbFromPower } from '../../signal/decibels.ts';
import { LOWERING_MARGIN, lowerRate, lowerRateRoughly } from '../spectra/lowerRate.ts';
import type { BlockSpan } from '../../time/spans.ts';
import { LearntLevels } from './learntLevels.ts';

/** Part of a clip that is surely of one kind, and how much later its right side comes. */
export interface SurePart extends BlockSpan {
  delaySamples: number;
}

/** The two sides of a pair from a frame on, with zeros where the clip has none. */
export type PairReader = (startFrame: number, frames: number) => Promise<[Float64Array, Float64Array]>;

// Nearly all of speech and music lies below 6 kHz, and what lossy coders make up lies above.
const HIGHEST_RATE = 12500;
const TRAINING_SECONDS = 4;
const LEAST_TRAINING_SECONDS = 0.4;
const LONGEST_SEARCH_SECONDS = 30;
const FRAME_SECONDS = 0.02;
const TAPS = 64;
const READ_FRAMES = 1 << 16;
// Takes offsets and rumble off, and brings the treble up: speech falls by about this much.
const WHITENING = 0.95;
// Bands in which the source has nothing must not get huge gains.
const REGULARISATION = 1e-6;
const NOTHING = 1e-13;
// A pause is one thing to be seen, not as many as it has frames, where one of the kinds was learnt without any.
const UNSEEN_WEIGHT = 0.25;
// How much each decibel speaks for a filter that leaves less: a frame holds only a few independent values of sound. The first few
// decibels may be luck, the last are other people's noise.
const FORETOLD_WEIGHT = 0.4;
const FORETOLD_FROM_DB = -6;
const FORETOLD_TO_DB = -46;

/**
 * Where one kind of pair gives way to another: each side is foretold from the other by a short filter learnt before the boundary, and by one
 * learnt after it, and a frame belongs where what is left of it is as it was there. In pauses that is how the noises tell.
 * The most likely split of all the frames between the sure parts (maximum likelihood, D. V. Hinkley, Biometrika 57, 1970).
 * @returns the block with which the later part begins; null where there is too little to learn from, or where too much lies between
 */
export async function placeBoundary(
  before: SurePart,
  after: SurePart,
  { sampleRate, blockSeconds }: { sampleRate: number; blockSeconds: number },
  read: PairReader,
): Promise<number | null> {
  const training = Math.round(TRAINING_SECONDS / blockSeconds);
  const first = Math.max(before.startBlock, before.endBlock - training);
  const last = Math.min(after.endBlock, after.startBlock + training);
  if (Math.min(before.endBlock - first, last - after.startBlock) * blockSeconds < LEAST_TRAINING_SECONDS) return null;
  if ((after.startBlock - before.endBlock) * blockSeconds > LONGEST_SEARCH_SECONDS) return null;
  let halvings = 0;
  while (sampleRate / 2 ** halvings > HIGHEST_RATE) halvings++;
  const rate = sampleRate / 2 ** halvings;
  const lagOf = ({ delaySamples }: SurePart): number => Math.round(delaySamples / 2 ** halvings);
  const frame = Math.round(FRAME_SECONDS * rate);
  const frameAt = (block: number): number => Math.round(((block - first) * blockSeconds * rate) / frame);
  const learntTo = frameAt(before.endBlock);
  const learntFrom = frameAt(after.startBlock);
  const count = Math.floor(((last - first) * blockSeconds * rate) / frame);
  const margin = Math.max(Math.abs(lagOf(before)), Math.abs(lagOf(after))) + TAPS;
  const startFrame = Math.round(first * blockSeconds * sampleRate);
  const sides = await whitened(read, startFrame, { length: count * frame + 2 * margin, margin, halvings });
  const sound = { sides, margin, frame };
  const between = { from: learntTo, to: learntFrom };
  const asBefore = fitOf(sound, lagOf(before), { from: 0, to: learntTo }, between);
  const asAfter = fitOf(sound, lagOf(after), { from: learntFrom, to: count }, between);
  let best = learntTo;
  let least = 0;
  let sum = 0;
  for (let i = 0; i < learntFrom - learntTo; i++) {
    sum += (asBefore.seen[i] && asAfter.seen[i] ? 1 : UNSEEN_WEIGHT) * (asBefore.cost[i] - asAfter.cost[i]);
    if (sum < least) [best, least] = [learntTo + i + 1, sum];
  }
  return first + Math.round((best * frame) / rate / blockSeconds);
}

/** Both sides at a lower rate and with a flatter spectrum, `length` samples with `margin` before the first frame and after the last. */
async function whitened(
  read: PairReader,
  startFrame: number,
  { length, margin, halvings }: { length: number; margin: number; halvings: number },
): Promise<[Float64Array, Float64Array]> {
  const sides: [Float64Array, Float64Array] = [new Float64Array(length), new Float64Array(length)];
  const around = LOWERING_MARGIN + 1;
  const piece = READ_FRAMES >> halvings;
  for (let done = 0; done < length; done += piece) {
    const wanted = Math.min(piece, length - done);
    const pair = await read(startFrame + ((done - margin - around) << halvings), (wanted + 2 * around) << halvings);
    pair.forEach((side, s) => {
      const low = halvings < 2 ? lowerRate(side, halvings) : lowerRate(lowerRateRoughly(side, halvings - 1), 1);
      flatten(low.subarray(around - 1), sides[s].subarray(done, done + wanted));
    });
  }
  return sides;
}

/** A function of its own, as an engine compiles what is called often. @param flat to be filled, one sample fewer than the sound */
function flatten(sound: Float64Array, flat: Float64Array): void {
  for (let i = 0; i < flat.length; i++) flat[i] = sound[i + 1] - WHITENING * sound[i];
}

interface FramedSound {
  sides: [Float64Array, Float64Array];
  margin: number;
  /** Samples in a frame. */
  frame: number;
}

/** Windows of `FRAME_SECONDS`, from and up to. */
interface Windows {
  from: number;
  to: number;
}

/** How each frame fits what was learnt from others. */
interface Fit {
  /** Minus the logarithm of how likely it is. */
  cost: Float64Array;
  /** Whether anything as quiet was learnt. */
  seen: boolean[];
}

/** How some frames fit what is learnt from others, both ways round. */
function fitOf({ sides: [left, right], ...frames }: FramedSound, lag: number, learnt: Windows, asked: Windows): Fit {
  const oneWay = fitOneWay({ ...frames, source: left, target: right, lag }, learnt, asked);
  const otherWay = fitOneWay({ ...frames, source: right, target: left, lag: -lag }, learnt, asked);
  return {
    cost: oneWay.cost.map((cost, i) => cost + otherWay.cost[i]),
    seen: oneWay.seen.map((seen, i) => seen && otherWay.seen[i]),
  };
}

interface OneWay extends Omit<FramedSound, 'sides'> {
  source: Float64Array;
  target: Float64Array;
  /** How many samples the target comes later than the source. */
  lag: number;
}

function fitOneWay({ source, target, lag, margin, frame }: OneWay, learnt: Windows, asked: Windows): Fit {
  const example = (first: number, frames: number): FilterExample => {
    const start = margin + first * frame;
    const sourceStart = start - lag - TAPS / 2;
    return {
      source: source.subarray(sourceStart, sourceStart + frames * frame + TAPS),
      target: target.subarray(start, start + frames * frame),
    };
  };
  const equations = emptyEquations(TAPS, Math.max(learnt.to - learnt.from, asked.to - asked.from) * frame, 1);
  equations.add([example(learnt.from, learnt.to - learnt.from)]);
  equations.solve(REGULARISATION);
  const levels = ({ from, to }: Windows) => {
    const { source: heard, target: wanted } = example(from, to - from);
    const inner = heard.subarray(TAPS / 2);
    const residuals = equations.residualSquares(heard, wanted, frame).map((squares) => squares / frame + NOTHING);
    return {
      heardDb: residuals.map((_, i) => dbFromPower(meanSquare(inner, i * frame, frame) + NOTHING)),
      leftDb: residuals.map(dbFromPower),
      foretoldDb: residuals.map((residual, i) =>
        dbFromPower(residual / (meanSquare(wanted, i * frame, frame) + NOTHING)),
      ),
    };
  };
  const known = levels(learnt);
  const expected = new LearntLevels(known.heardDb, known.leftDb);
  const { heardDb, leftDb, foretoldDb } = levels(asked);
  const cost = leftDb.map((level, i) => {
    const foretold = Math.max(FORETOLD_TO_DB, Math.min(FORETOLD_FROM_DB, foretoldDb[i])) - FORETOLD_FROM_DB;
    return expected.unlikeness(heardDb[i], level) + FORETOLD_WEIGHT * foretold;
  });
  return { cost, seen: Array.from(heardDb, (level) => expected.hasHeard(level)) };
}

function meanSquare(samples: Float64Array, from: number, count: number): number {
  let sum = 0;
  for (let i = from; i < from + count; i++) sum += samples[i] * samples[i];
  return sum / count;
}
