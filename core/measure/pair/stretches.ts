import {
  dividedBy,
  largerOf,
  largestAt,
  largestOfSteady,
  orElse,
  raisedTo,
  slidingMeans,
  unlikePowers,
} from '../../kernels/blockSeries.ts';
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
  const [left, right] = overFloor.map((ratios, side) => dividedBy(ratios, least[side]));
  const { excluded = [] } = range;
  const isFree = (block: number): boolean =>
    !excluded.some(
      ({ startBlock, endBlock }) =>
        range.startBlock + block < endBlock && range.startBlock + block + length > startBlock,
    );
  const means = [left, right, largerOf(left, right)].map((values) => slidingMeans(values, length, count));
  // How loud a side is where it is active, or else either of them.
  const louderSide = means.map((ofOne) => orElse(ofOne, 1, means[2]));
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
    unlike: unlikeBlocks(sides, range, excluded.length > 0 ? isFree : null).map((block) => stretchAt(range, block)),
  };
}

/**
 * Where the most is heard on one side that the other, as much louder or softer as it mostly is, does not account for; on either side by turns. Blocks from
 * the start of the range, of two that are looked at with half a block before and after.
 */
function unlikeBlocks(
  sides: [ChannelMeasurement, ChannelMeasurement],
  { startBlock, endBlock }: BlockSpan,
  isFree: ((block: number) => boolean) | null,
): number[] {
  const [left, right] = sides.map(({ blockSpeechPower }) => pairsOf(blockSpeechPower.subarray(startBlock, endBlock)));
  const { loud, excess } = unlikePowers(
    [right.powers, UNLIKE_OVER_FLOOR * right.floor],
    [left.powers, UNLIKE_OVER_FLOOR * left.floor],
    UNLIKE,
  );
  if (isFree) for (const [i, block] of loud.entries()) if (!isFree(block - 0.5)) excess[i] = 0;
  const found: number[] = [];
  for (const sign of [1, -1] as const)
    for (let n = 0; n < MOST_UNLIKE / 2 && loud.length > 0; n++) {
      const most = largestAt(excess, sign);
      if (sign * excess[most] <= 0) break;
      found.push(loud[most] - 0.5);
      // What lies beside it is the same moment.
      const isBeside = (i: number): boolean => Math.abs(loud[i] - loud[most]) <= UNLIKE_BLOCKS;
      let first = most;
      let last = most;
      while (first > 0 && isBeside(first - 1)) first--;
      while (last < loud.length - 1 && isBeside(last + 1)) last++;
      excess.fill(0, first, last + 1);
    }
  return found;
}

/** The power of each two blocks in a row, no less than that of the noise under all, and that. */
function pairsOf(blocks: Float64Array): { powers: Float64Array; floor: number } {
  const powers = slidingMeans(blocks, UNLIKE_BLOCKS, Math.max(0, blocks.length - UNLIKE_BLOCKS + 1));
  const floor = noiseFloorPower(blocks) || Number.MIN_VALUE;
  return { powers: raisedTo(powers, floor), floor };
}

/** How much a stretch speaks for itself that begins at each block, counted from the start of the range, in one of its parts. */
type Worth = (part: number) => Float64Array;

/** What was recorded differently has a floor of its own. */
function ratiosToFloor({ blockSpeechPower }: ChannelMeasurement, { startBlock, endBlock }: BlockSpan): Float64Array {
  const inRange = blockSpeechPower.subarray(startBlock, endBlock);
  const floor = noiseFloorPower(inRange) || Number.MIN_VALUE;
  return dividedBy(inRange, floor);
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
  let from = startBlock;
  for (const one of [...[...old].sort((a, b) => a - b), endBlock + BESIDE_BLOCKS]) {
    const to = Math.min(endBlock, one - BESIDE_BLOCKS);
    if (to > from) {
      const block = from + largestAt(worth.subarray(from, to));
      if (worth[block] >= least && (best === null || worth[block] > worth[best])) best = block;
    }
    from = Math.max(from, one + BESIDE_BLOCKS + 1);
  }
  return best;
}

/** Minus the loudest block over its floor of a stretch that begins with each; -Infinity where a side moves or is digital silence. */
function quietness(overFloor: Float64Array[], length: number, count: number): Float64Array {
  const [quiet, other] = overFloor.map((ratios) => largestOfSteady(ratios, length, STEADY, count));
  return dividedBy(largerOf(quiet, other), -1);
}

function partsOf(count: number, blocks: number, most: number): number {
  return Math.max(1, Math.min(most, Math.floor(count / blocks)));
}
