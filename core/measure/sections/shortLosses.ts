import { largerOf, placesBetween, ranked, ratiosAt } from '../../kernels/blockSeries.ts';
import { powerFromDb } from '../../signal/decibels.ts';
import type { BlockSpan } from '../../time/spans.ts';
import { NOTHING_POWER } from '../boundaries.ts';
import type { ChannelMeasurement, Measurement, PairMeasurement, ShortLoss } from '../measurement.ts';
import { percentile } from '../stream/noiseFloor.ts';

// A block counts that is within this of the loud ones.
const ACTIVE_WITHIN = powerFromDb(-30);
/** So far below what the other side foretells, a side has gone. */
const LOST = powerFromDb(20);
/** Where levels differ by more than this from block to block, the sides are no copies and no one field: nothing is foretold. */
const MOST_SPREAD = powerFromDb(6);
/** Copies: this much of the blocks have nothing of their own on either side. */
const COPIES_SHARE = 0.8;
const COPY_CORRELATION = 0.98;
// So many of the blocks that sound must be there on both sides.
const LEAST_WHOLE_SHARE = 0.55;
/** A side this far below the other carries nothing of its programme: it cannot drop out of it. */
const MOST_APART = powerFromDb(30);
/** Longer losses are parts of a clip that changes. */
const SHORTER_THAN_SECONDS = 1;
const SHORTEST_SECONDS = 0.08;
// An edge lies within a block where so much of what was foretold is missing.
const EDGE_SHARE = 0.9;
const PAUSE_SHARE = 0.05;

type Sides = [ChannelMeasurement, ChannelMeasurement];

/**
 * Moments in which a side drops out of a pair of copies, or falls to digital silence, for less than a second: a wireless microphone, a bad contact.
 * Told by the levels: as loud as the other side foretells everywhere else, and gone there.
 */
export function shortLosses(sides: Sides, pair: PairMeasurement, blockSeconds: number): ShortLoss[] {
  // Where nobody hears anything a side that is lost may still stand off nought, or rumble.
  const [left, right] = sides.map(({ blockSpeechPower }) => blockSpeechPower);
  const louder = largerOf(left, right);
  const least = percentile(louder, 0.9) * ACTIVE_WITHIN;
  const active = placesBetween(louder, Math.max(least, NOTHING_POWER));
  if (active.length === 0) return [];
  const ratios = ratiosAt(left, right, active, NOTHING_POWER);
  const usual = percentile(ratios, 0.5);
  if (usual > MOST_APART || usual < 1 / MOST_APART) return [];
  const lost = [placesBetween(ratios, -Infinity, usual / LOST), placesBetween(ratios, usual * LOST)];
  const lostBlocks = lost[0].length + lost[1].length;
  if (lostBlocks === 0 || active.length - lostBlocks < LEAST_WHOLE_SHARE * active.length) return [];
  // Of those between them, in order.
  const wholeAt = (share: number): number =>
    ranked(ratios, lost[0].length + Math.floor(share * (active.length - lostBlocks)));
  if (wholeAt(0.75) > MOST_SPREAD * wholeAt(0.25)) return [];
  const lostAt = new Map<number, 0 | 1>();
  for (const side of [0, 1] as const) for (const k of lost[side]) lostAt.set(active[k], side);
  const whole = active.filter((i) => !lostAt.has(i));
  const alike = whole.filter(
    (i) => Math.abs(pair.blockSpeechProduct[i]) > COPY_CORRELATION * Math.sqrt(left[i] * right[i]),
  ).length;
  const areCopies = alike >= COPIES_SHARE * whole.length;
  const foretold = (side: 0 | 1, i: number): number => (side === 0 ? right[i] * usual : left[i] / usual);
  const isSilent = (side: 0 | 1, i: number): boolean => {
    const [own, other] = [sides[side], sides[1 - side]].map(({ blockPower }) => blockPower);
    return i >= 0 && i < own.length && own[i] <= NOTHING_POWER && other[i] > NOTHING_POWER;
  };
  return runsOf(active, lostAt)
    .map(({ side, blocks: { startBlock, endBlock } }) => {
      // Digital silence tells in a pause, too.
      while (isSilent(side, startBlock - 1)) startBlock--;
      while (isSilent(side, endBlock)) endBlock++;
      return { side, blocks: { startBlock, endBlock } };
    })
    .filter(({ side, blocks }) => {
      // With the last block, which may be a few samples, one side ends sooner.
      if (blocks.startBlock >= louder.length - 1) return false;
      if (areCopies) return true;
      const { blockPower } = sides[side];
      for (let i = blocks.startBlock; i < blocks.endBlock; i++) if (blockPower[i] > NOTHING_POWER) return false;
      return true;
    })
    .map(({ side, blocks: { startBlock, endBlock } }) => {
      const own = side === 0 ? left : right;
      const there = (i: number): number => {
        const wanted = i >= 0 && i < own.length ? foretold(side, i) : 0;
        return wanted > NOTHING_POWER && louder[i] > least ? Math.min(1, own[i] / wanted) : 1;
      };
      const before = there(startBlock - 1);
      const after = there(endBlock);
      return {
        side: side === 0 ? ('left' as const) : ('right' as const),
        startBlock: Math.max(0, startBlock - 1),
        endBlock: Math.min(own.length, endBlock + 1),
        startSeconds: (startBlock - (before < EDGE_SHARE ? 1 - before : 0)) * blockSeconds,
        endSeconds: (endBlock + (after < EDGE_SHARE ? 1 - after : 0)) * blockSeconds,
      };
    })
    .filter(({ startSeconds, endSeconds }) => {
      const seconds = endSeconds - startSeconds;
      return seconds >= SHORTEST_SECONDS && seconds < SHORTER_THAN_SECONDS;
    });
}

/** A pause hides whether a side is there: it is lost until it is heard again. @param active the blocks that sound, in order */
function runsOf(active: Int32Array, lostAt: ReadonlyMap<number, 0 | 1>): { side: 0 | 1; blocks: BlockSpan }[] {
  const runs: { side: 0 | 1; blocks: BlockSpan }[] = [];
  let before: 0 | 1 | undefined;
  for (const i of active) {
    const side = lostAt.get(i);
    if (side !== undefined && side === before) runs.at(-1)!.blocks.endBlock = i + 1;
    else if (side !== undefined) runs.push({ side, blocks: { startBlock: i, endBlock: i + 1 } });
    before = side;
  }
  return runs;
}

/** Sides as if they paused where one of them was lost: what they are is told by the rest. */
export function sidesBesideLosses(sides: Sides, losses: readonly ShortLoss[]): Sides {
  if (losses.length === 0) return sides;
  const paused = (powers: Float64Array): Float64Array => {
    const lost = (i: number): boolean => losses.some(({ startBlock, endBlock }) => i >= startBlock && i < endBlock);
    const pause = percentile(
      powers.filter((power, i) => power > NOTHING_POWER && !lost(i)),
      PAUSE_SHARE,
    );
    const out = powers.slice();
    for (const { startBlock, endBlock } of losses) out.fill(pause, startBlock, endBlock);
    return out;
  };
  return sides.map((side) => ({
    ...side,
    blockPower: paused(side.blockPower),
    blockSpeechPower: paused(side.blockSpeechPower),
  })) as Sides;
}

/** What two sides have in common, but for where one of them was lost. */
export function pairBesideLosses(
  pair: PairMeasurement,
  [left, right]: Sides,
  losses: readonly ShortLoss[],
  { blockSeconds, sampleRate }: Measurement,
): PairMeasurement {
  if (losses.length === 0) return pair;
  const blockFrames = Math.round(blockSeconds * sampleRate);
  const inLosses = (series: Float64Array): number =>
    losses.reduce(
      (sum, { startBlock, endBlock }) =>
        sum + blockFrames * series.subarray(startBlock, endBlock).reduce((part, value) => part + value, 0),
      0,
    );
  const cleared = (series: Float64Array): Float64Array => {
    const out = series.slice();
    for (const { startBlock, endBlock } of losses) out.fill(0, startBlock, endBlock);
    return out;
  };
  // What is left of equal sides is rounding.
  const rest = (whole: number, lost: number): number => (whole - lost < 1e-9 * whole ? 0 : whole - lost);
  return {
    ...pair,
    product: pair.product - inLosses(pair.blockProduct),
    squares: [rest(pair.squares[0], inLosses(left.blockPower)), rest(pair.squares[1], inLosses(right.blockPower))],
    differenceSquare: rest(pair.differenceSquare, inLosses(pair.blockDifferencePower)),
    blockProduct: cleared(pair.blockProduct),
    blockSpeechProduct: cleared(pair.blockSpeechProduct),
    blockDifferencePower: cleared(pair.blockDifferencePower),
  };
}
