import { powerFromDb } from '../../signal/decibels.ts';
import type { BlockSpan } from '../../time/spans.ts';
import { NOTHING_POWER } from '../boundaries.ts';
import type { ChannelMeasurement, PairMeasurement } from '../measurement.ts';
import { MORE_BY_CHANCE } from '../pair/filterMatch.ts';
import { percentile } from '../stream/noiseFloor.ts';

const MOMENT_BLOCKS = 2;
// A side is heard in a moment that stands so far over what is left of it mostly, which is noise or what a coder left.
const HEARD = powerFromDb(15);
const MOSTLY_SHARE = 0.75;
// And over what is so far below the loud of its side, of which nobody would miss anything.
const HEARD_BESIDE = powerFromDb(-30);
const LOUD_SHARE = 0.9;

/**
 * Of sides that are one signal as they are: how much of the moment in which they are that the least is none of the other side's at any level, by the side of
 * which less is; 0..1. A side that is lost has nothing of its own.
 */
export function unlikeMoments(
  [left, right]: [ChannelMeasurement, ChannelMeasurement],
  { blockSpeechProduct, losses }: PairMeasurement,
  { startBlock, endBlock }: BlockSpan,
): number {
  const [lefts, rights, products] = [left.blockSpeechPower, right.blockSpeechPower, blockSpeechProduct].map((series) =>
    momentsOf(series.subarray(startBlock, endBlock)),
  );
  const own = [leftOver(lefts, rights, products), leftOver(rights, lefts, products)];
  const usual = own.map((powers) => percentile(powers, MOSTLY_SHARE));
  const [leftLeast, rightLeast] = [lefts, rights].map((powers, side) =>
    Math.max(NOTHING_POWER, HEARD * usual[side], HEARD_BESIDE * percentile(powers, LOUD_SHARE)),
  );
  const isLost = (i: number): boolean =>
    losses.some((loss) => startBlock + i + MOMENT_BLOCKS > loss.startBlock && startBlock + i < loss.endBlock);
  let most = 0;
  for (let i = 0; i < lefts.length; i++) {
    if (lefts[i] <= leftLeast || rights[i] <= rightLeast) continue;
    const leftShare = (own[0][i] - MORE_BY_CHANCE * usual[0]) / lefts[i];
    const rightShare = (own[1][i] - MORE_BY_CHANCE * usual[1]) / rights[i];
    const share = Math.min(leftShare, rightShare);
    if (share > most && !isLost(i)) most = share;
  }
  return most;
}

/** But for the last block, which may be a few samples with which one side ends sooner. */
function momentsOf(blocks: Float64Array): Float64Array {
  const moments = new Float64Array(Math.max(0, blocks.length - MOMENT_BLOCKS));
  for (let i = 0; i < moments.length; i++) for (let k = 0; k < MOMENT_BLOCKS; k++) moments[i] += blocks[i + k];
  return moments;
}

/** What of each moment of one side the other does not foretell with a gain. */
function leftOver(targets: Float64Array, sources: Float64Array, products: Float64Array): Float64Array {
  const left = targets.slice();
  for (let i = 0; i < left.length; i++)
    if (sources[i] > 0) left[i] = Math.max(0, left[i] - products[i] ** 2 / sources[i]);
  return left;
}
