import { largestOfSteady, slidingMeans } from '../../kernels/blockSeries.ts';
import { STANDS_OUT_DB } from '../boundaries.ts';
import { powerFromDb } from '../../signal/decibels.ts';
import { blocksIn, type BlockSpan } from '../../time/spans.ts';
import type { ChannelMeasurement } from '../measurement.ts';
import { noiseFloorPower, percentile } from '../stream/noiseFloor.ts';
import { isResembling, REACH_BLOCKS, surroundingsOf, type Surroundings } from './resembling.ts';

/** Part of a clip, in frames. */
export interface Stretch {
  startFrame: number;
  frames: number;
}

export interface Stretches {
  /** Where something is heard, spread evenly over the range. */
  active: Stretch[];
  /** Where nobody speaks: only the noise of both channels. At most `MOST_PAUSES`. */
  pauses: Stretch[];
  /** Where one side is the most louder than it mostly is, and where the other is: what is heard seldom may be heard there. At most `MOST_UNLIKE`. */
  unlike: Stretch[];
}

const MOST_PAUSES = 6;
const MOST_UNLIKE = 4;
// Loud enough to be told from noise, and with levels that differ by so much more or less than they mostly do.
const UNLIKE_OVER_FLOOR = powerFromDb(15);
const UNLIKE = powerFromDb(1.5);
const UNLIKE_BLOCKS = 2;
// With the reach of the delays this fills a power of two at 44.1 and 48 kHz.
const STRETCH_SECONDS = 0.29;
const STANDS_OUT = powerFromDb(STANDS_OUT_DB);
// Sound without pauses never stands out of its floor that far: then what comes within 6 dB of its louder quarter will do.
const NEARLY_LOUD = powerFromDb(-6);
// A side that moves by less than this is steady noise, or a steady programme.
const MOVES = powerFromDb(6);
// A pause is near the floor on both sides, and steady: noise moves by a few tenths of a decibel, dying sound by more.
const NEAR_FLOOR = powerFromDb(3);
const STEADY = powerFromDb(1.3);

export interface StretchRange extends BlockSpan {
  sampleRate: number;
  blockSeconds: number;
  /** Frames in the clip. */
  frames: number;
  /** At most this many active stretches. */
  mostActive: number;
  /** Where nothing is to be looked at: moments in which a side is lost. */
  excluded?: readonly BlockSpan[];
}

/**
 * Picks a bounded number of stretches to look at again. The range is cut into equal parts, and in each
 * the loudest stretch is taken, by turns of the left, the right and both sides, so that someone heard mostly on one
 * of them is not left out.
 */
export function chooseStretches(sides: [ChannelMeasurement, ChannelMeasurement], range: StretchRange): Stretches {
  const count = blocksIn(range);
  const length = Math.max(1, Math.ceil(STRETCH_SECONDS / range.blockSeconds));
  const overFloor = sides.map((side) => ratiosToFloor(side, range));
  const least = overFloor.map(leastActive);
  const isSteady = least.every((value) => value === Infinity);
  // Of each side and of both; 0 where a side is steady.
  const [left, right] = overFloor.map((ratios, side) => over(ratios, least[side]));
  const either = left.slice();
  for (let i = 0; i < either.length; i++) either[i] = Math.max(left[i], right[i]);
  const { excluded = [] } = range;
  const isFree = (block: number): boolean =>
    !excluded.some(
      ({ startBlock, endBlock }) =>
        range.startBlock + block < endBlock && range.startBlock + block + length > startBlock,
    );
  const means = [left, right, either].map((values) => slidingMeans(values, length, count));
  const louderSide = means.map((ofOne) => orElse(ofOne, means[2]));
  if (excluded.length > 0)
    for (const loudness of louderSide) for (let i = 0; i < count; i++) if (!isFree(i)) loudness[i] = 0;
  const chosen = (parts: number, worth: Worth, enough: number, isNew: IsNew = () => true): Stretch[] =>
    bestOfParts({ count, length, parts }, worth, enough, isNew).map((block) => stretchAt(range, block));
  const active = partsOf(count, length, range.mostActive);
  if (isSteady) {
    const all = new Float64Array(count);
    return { active: chosen(active, () => all, 0), pauses: [], unlike: [] };
  }
  const quiet = quietness(overFloor, length, count);
  return {
    active: chosen(active, (part) => louderSide[part % 3], 1, newTo(overFloor, active)),
    pauses: chosen(partsOf(count, 2 * length, MOST_PAUSES), () => quiet, -NEAR_FLOOR),
    unlike: unlikeBlocks(sides, range, isFree).map((block) => stretchAt(range, block)),
  };
}

/** How loud a side is where it is active, or else either of them. */
function orElse(side: Float64Array, either: Float64Array): Float64Array {
  const out = side.slice();
  for (let i = 0; i < out.length; i++) if (out[i] < 1) out[i] = either[i];
  return out;
}

/**
 * Where the most is heard on one side that the other, as much louder or softer as it mostly is, does not account for; on either side by turns. Blocks from
 * the start of the range, of two that are looked at with half a block before and after. Nothing is made for a block: an hour has 36,000.
 */
function unlikeBlocks(
  sides: [ChannelMeasurement, ChannelMeasurement],
  { startBlock, endBlock }: BlockSpan,
  isFree: (block: number) => boolean,
): number[] {
  const [left, right] = sides.map(({ blockSpeechPower }) => pairsOf(blockSpeechPower.subarray(startBlock, endBlock)));
  const loud = new Int32Array(left.powers.length);
  const ratios = new Float64Array(left.powers.length);
  let count = 0;
  for (let block = 1; block < left.powers.length - 1; block++) {
    const one = left.powers[block];
    const other = right.powers[block];
    if (one < UNLIKE_OVER_FLOOR * left.floor && other < UNLIKE_OVER_FLOOR * right.floor) continue;
    loud[count] = block;
    ratios[count++] = Math.max(other, right.floor) / Math.max(one, left.floor);
  }
  const mostly = percentile(ratios.subarray(0, count), 0.5);
  const excess = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    const ratio = ratios[i] / mostly;
    if ((ratio < UNLIKE && ratio > 1 / UNLIKE) || !isFree(loud[i] - 0.5)) continue;
    excess[i] = Math.max(right.powers[loud[i]], right.floor) - mostly * Math.max(left.powers[loud[i]], left.floor);
  }
  const found: number[] = [];
  for (const sign of [1, -1])
    for (let n = 0; n < MOST_UNLIKE / 2; n++) {
      let most = -1;
      for (let i = 0; i < count; i++)
        if (sign * excess[i] > 0 && (most < 0 || sign * excess[i] > sign * excess[most])) most = i;
      if (most < 0) break;
      found.push(loud[most] - 0.5);
      // What lies beside it is the same moment.
      for (let i = 0; i < count; i++) if (Math.abs(loud[i] - loud[most]) <= UNLIKE_BLOCKS) excess[i] = 0;
    }
  return found;
}

/** The power of each two blocks in a row, and of the noise under all. */
function pairsOf(blocks: Float64Array): { powers: Float64Array; floor: number } {
  const powers = slidingMeans(blocks, UNLIKE_BLOCKS, Math.max(0, blocks.length - UNLIKE_BLOCKS + 1));
  return { powers, floor: noiseFloorPower(blocks) || Number.MIN_VALUE };
}

/** How much a stretch speaks for itself that begins at each block, counted from the start of the range, in one of its parts. */
type Worth = (part: number) => Float64Array;

/** What was recorded differently has a floor of its own. */
function ratiosToFloor({ blockSpeechPower }: ChannelMeasurement, { startBlock, endBlock }: BlockSpan): Float64Array {
  const inRange = blockSpeechPower.subarray(startBlock, endBlock);
  const floor = noiseFloorPower(inRange) || Number.MIN_VALUE;
  return over(inRange, floor);
}

/** A loop, as an hour has 36,000 blocks. */
function over(values: Float64Array, one: number): Float64Array {
  const out = values.slice();
  for (let i = 0; i < out.length; i++) out[i] /= one;
  return out;
}

/** From here on a side is active; nowhere, where it is steady. */
function leastActive(overFloor: Float64Array): number {
  return percentile(overFloor, 0.95) < MOVES
    ? Infinity
    : Math.min(STANDS_OUT, NEARLY_LOUD * percentile(overFloor, 0.75));
}

function stretchAt({ startBlock, blockSeconds, sampleRate, frames }: StretchRange, block: number): Stretch {
  const startFrame = Math.round((startBlock + block) * blockSeconds * sampleRate);
  return { startFrame, frames: Math.min(Math.round(STRETCH_SECONDS * sampleRate), frames - startFrame) };
}

/** Whether a stretch holds other sound than those that were taken before it. */
type IsNew = (block: number) => boolean;

// In a long clip that was looped the loudest word of each part is one word, and would be taken for all that is said. Shorter parts are of different words.
const MAY_REPEAT_BLOCKS = 2 * REACH_BLOCKS;
const MOST_TRIES = 6;
// What begins so near is the same word, and what is so much softer is hardly heard.
const BESIDE_BLOCKS = 3;
const NEARLY_BEST = powerFromDb(-10);

function newTo(overFloor: readonly Float64Array[], parts: number): IsNew {
  if (overFloor[0].length < parts * MAY_REPEAT_BLOCKS) return () => true;
  const taken: Surroundings[] = [];
  return (block) => {
    const around = surroundingsOf(overFloor, block);
    if (taken.some((other) => isResembling(around, other))) return false;
    taken.push(around);
    return true;
  };
}

/** The block with which the best stretch of each part begins, where it is good enough. */
function bestOfParts(
  { count, length, parts }: { count: number; length: number; parts: number },
  worth: Worth,
  enough: number,
  isNew: IsNew,
): number[] {
  const found: number[] = [];
  for (let part = 0; part < parts; part++) {
    const startBlock = Math.floor((part * count) / parts);
    const endBlock = Math.max(startBlock + 1, Math.floor(((part + 1) * count) / parts) - length + 1);
    const best = bestNew({ startBlock, endBlock }, worth(part), enough, isNew);
    if (best !== null) found.push(best);
  }
  return found;
}

/** Of the few best the first that is new, or else the best; null where none is good enough. */
function bestNew(span: BlockSpan, worth: Float64Array, enough: number, isNew: IsNew): number | null {
  const old: number[] = [];
  let least = enough;
  while (old.length < MOST_TRIES) {
    const best = bestBeside(old, span, worth, least);
    if (best === null) break;
    if (isNew(best)) return best;
    if (old.length === 0) least = Math.max(enough, NEARLY_BEST * worth[best]);
    old.push(best);
  }
  return old[0] ?? null;
}

function bestBeside(
  old: readonly number[],
  { startBlock, endBlock }: BlockSpan,
  worth: Float64Array,
  least: number,
): number | null {
  let best: number | null = null;
  let most = least;
  for (let block = startBlock; block < endBlock; block++) {
    const value = worth[block];
    if (best === null ? value < most : value <= most) continue;
    if (old.some((one) => Math.abs(one - block) <= BESIDE_BLOCKS)) continue;
    [best, most] = [block, value];
  }
  return best;
}

/** Minus the loudest block over its floor of a stretch that begins with each; -Infinity where a side moves or is digital silence. */
function quietness(overFloor: Float64Array[], length: number, count: number): Float64Array {
  const [quiet, other] = overFloor.map((ratios) => largestOfSteady(ratios, length, STEADY, count));
  for (let i = 0; i < count; i++) quiet[i] = -Math.max(quiet[i], other[i]);
  return quiet;
}

function partsOf(count: number, blocks: number, most: number): number {
  return Math.max(1, Math.min(most, Math.floor(count / blocks)));
}
