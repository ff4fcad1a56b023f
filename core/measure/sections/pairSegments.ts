import { cheapestPath, largerOf } from '../../kernels/blockSeries.ts';
import { areExactBlocks, blockStates, type PairSeries, type StateThresholds } from '../../kernels/blockStates.ts';
import { powerFromDb } from '../../signal/decibels.ts';
import { blocksIn } from '../../time/spans.ts';
import type { BlockSpan } from '../../time/spans.ts';
import type { ChannelMeasurement, PairMeasurement } from '../measurement.ts';
import { noiseBesides } from './noiseBesides.ts';
import { MOMENT_SCATTER_DB, NOTHING_POWER, ONE_SIDED_DB, ONE_SIGNAL_NULL_DB, STANDS_OUT_DB } from '../boundaries.ts';
import { percentile } from '../stream/noiseFloor.ts';
import type { BlockState, PairSegment } from './pairState.ts';

type BlockRun = Omit<PairSegment, 'begins'>;

const STATES: BlockState[] = ['left-only', 'right-only', 'same', 'scaled', 'inverted', 'different'];
const AUDIBLE_POWER = powerFromDb(-100);
const TURNS = 2;
const TURN_BLOCKS = 4;
// Each is about as loud as the other.
const TURN_POWER = powerFromDb(-20);
// What a block must show to allow a state.
const THRESHOLDS: StateThresholds = {
  nothingPower: NOTHING_POWER,
  // Copied within a file: no converter keeps two noises this much alike.
  exact: powerFromDb(-90),
  standsOut: powerFromDb(STANDS_OUT_DB),
  noiseShare: 0.15,
  // Copies null deeply, but never deeper than their own noise.
  copyNull: powerFromDb(-30),
  copyReach: powerFromDb(9),
  sameNull: powerFromDb(ONE_SIGNAL_NULL_DB + MOMENT_SCATTER_DB),
  sameReach: powerFromDb(6),
  // A block tells a little less than all of them.
  alone: powerFromDb(ONE_SIDED_DB - 2),
};
// Costs of a block that contradicts a state, of the less telling one where a more telling one fits too, and of a change.
const CONTRADICTS = 1;
const LESS_TELLING = STATES.map((state) =>
  state === 'different' ? 0.25 : state === 'scaled' || state === 'inverted' ? 0.15 : 0,
);
// Where nothing is told, the pair is different until shown otherwise.
const UNKNOWN = 0.005;
const CHANGE = 3.5;
// So many telling blocks in a row are right.
const SURE_BLOCKS = 3;
const SHORTEST_SECONDS = 1;
// A side that is knocked at is heard alone now and then; so is one that bleeds heard with the other. Nobody alone is both so often.
const KNOCKS_SHARE = 0.1;
const LEAST_NOT_ALONE = 0.35;

/**
 * Cuts a pair's time into segments by its block sums: the cheapest path through the states (Viterbi, 1967), where a change
 * costs as much as three and a half contradicting blocks, so that single blocks and pauses change nothing.
 */
export function pairSegments(
  sides: [ChannelMeasurement, ChannelMeasurement],
  pair: PairMeasurement,
  blockSeconds: number,
): PairSegment[] {
  const blocks = blockFacts(sides, pair);
  const count = blocks.length;
  if (count === 0) return [];
  const path = cheapestPath(blocks, COSTS, STATES.length, CHANGE);
  const segments: BlockRun[] = [];
  for (let startBlock = 0, i = 1; i <= count; i++) {
    if (i < count && path[i] === path[startBlock]) continue;
    segments.push({ startBlock, endBlock: i, state: STATES[path[startBlock]] });
    startBlock = i;
  }
  const turnsIn = ({ startBlock: from, endBlock: to }: BlockRun): number => {
    const [left, right] = sides.map(({ blockSpeechPower }) => blockSpeechPower);
    const louder = largerOf(left.subarray(from, to), right.subarray(from, to));
    const least = TURN_POWER * percentile(louder, 0.9);
    return countTurns(blocks, { startBlock: from, endBlock: to }, (i) => louder[i - from] >= least);
  };
  return joinTurns(joinShort(segments, SHORTEST_SECONDS / blockSeconds), turnsIn).map((segment, s) => {
    const state = isAloneByTurns(segment, blocks) ? 'different' : segment.state;
    return {
      ...segment,
      state: state === 'different' && turnsIn(segment) >= TURNS ? 'in-turn' : state,
      begins: s === 0 ? [0, 0] : beginnings(segment.startBlock, blocks),
    };
  });
}

/** Whether of two that sound by turns, too quickly for segments of their own, the one that sounds more was taken for alone. */
function isAloneByTurns({ state, startBlock, endBlock }: BlockRun, blocks: BlockFacts): boolean {
  if (state !== 'left-only' && state !== 'right-only') return false;
  const other = state === 'left-only' ? RIGHT_ONLY : LEFT_ONLY;
  let telling = 0;
  let both = 0;
  let others = 0;
  for (let i = startBlock; i < endBlock; i++) {
    const allowed = blocks[i];
    if (allowed === NOTHING_TOLD) continue;
    telling++;
    if ((allowed & ALONE_EITHER) === 0) both++;
    if ((allowed & ALONE_EITHER) === other) others++;
  }
  return others > KNOCKS_SHARE * telling && both + others > LEAST_NOT_ALONE * telling;
}

/** Which states each block allows, a bit each as `blockStates` has them. */
type BlockFacts = Uint8Array;

/** Where nothing sounds. Whatever sounds allows a state. */
const NOTHING_TOLD = 0;

function bitOf(state: BlockState): number {
  return 1 << STATES.indexOf(state);
}

const LEFT_ONLY = bitOf('left-only');
const RIGHT_ONLY = bitOf('right-only');
const ALONE_EITHER = LEFT_ONLY | RIGHT_ONLY;
const DIFFERENT = bitOf('different');

function blockFacts([left, right]: [ChannelMeasurement, ChannelMeasurement], pair: PairMeasurement): BlockFacts {
  const series = seriesOf([left, right], pair);
  return blockStates(
    series,
    [noiseBesides(series.left), noiseBesides(series.right)],
    aloneBesideSilence(series.left, series.right),
    THRESHOLDS,
  );
}

/** Whether both sides are the same to the last bits, but for level and polarity, in all of these blocks. */
export function areExactCopies(
  sides: [ChannelMeasurement, ChannelMeasurement],
  pair: PairMeasurement,
  { startBlock, endBlock }: BlockSpan,
): boolean {
  const { left, right, product } = seriesOf(sides, pair);
  const within = (values: Float64Array): Float64Array => values.subarray(startBlock, endBlock);
  return areExactBlocks({ left: within(left), right: within(right), product: within(product) }, THRESHOLDS);
}

function seriesOf([left, right]: [ChannelMeasurement, ChannelMeasurement], pair: PairMeasurement): PairSeries {
  return { left: left.blockSpeechPower, right: right.blockSpeechPower, product: pair.blockSpeechProduct };
}

/**
 * Which side sounds alone while the other is digital silence, a block, as its state has it, or 0: a microphone always has its noise, so the other has
 * dropped out. Sides that are switched off by turns are gated, and drop out of nothing.
 */
function aloneBesideSilence(left: Float64Array, right: Float64Array): Uint8Array {
  const alone = new Uint8Array(left.length);
  let turns = 0;
  let before = 0;
  for (let i = 0; i < left.length; i++) {
    if (Math.min(left[i], right[i]) > NOTHING_POWER || Math.max(left[i], right[i]) <= AUDIBLE_POWER) continue;
    alone[i] = left[i] <= NOTHING_POWER ? RIGHT_ONLY : LEFT_ONLY;
    if (before !== 0 && alone[i] !== before) turns++;
    before = alone[i];
  }
  return turns >= TURNS ? new Uint8Array(left.length) : alone;
}

/** What each state costs where a block tells what it tells, a row for each. */
const COSTS = Float64Array.from({ length: STATES.length * 2 ** STATES.length }, (_, at) =>
  costOf(at % STATES.length, Math.floor(at / STATES.length)),
);

/** @param state its place among `STATES` */
function costOf(state: number, allowed: number): number {
  const bit = 1 << state;
  if (allowed === NOTHING_TOLD) return bit === DIFFERENT ? 0 : UNKNOWN;
  if (!(allowed & bit)) return CONTRADICTS;
  return allowed === DIFFERENT ? 0 : LESS_TELLING[state];
}

/**
 * The first and the last block with which a segment may begin that was found to begin at some block: block sums know no better than to the
 * pause it begins in, and one or two telling blocks at the end of a pause may be wrong.
 */
function beginnings(at: number, blocks: BlockFacts): [number, number] {
  const pauseEnd = (block: number, step: 1 | -1): number => {
    let end = block;
    let telling = 0;
    for (let i = block; telling < SURE_BLOCKS && i > 0 && i < blocks.length; i += step) {
      if (blocks[i] !== NOTHING_TOLD) telling++;
      else {
        end = i + step;
        telling = 0;
      }
    }
    return end;
  };
  return [Math.max(1, pauseEnd(at - 1, -1) + 1), Math.min(blocks.length - 1, pauseEnd(at, 1))];
}

/**
 * Gives segments that are too short, the shortest first, to the longer of their neighbours. What has grown is longer than what it was given, so one walk for
 * each length does: an hour may have thousands of segments.
 */
function joinShort(segments: readonly BlockRun[], least: number): BlockRun[] {
  let joined = segments.map((segment) => ({ ...segment }));
  for (let length = 1; length < least; length++) joined = joinThoseOf(length, joined);
  return joined;
}

function joinThoseOf(length: number, segments: readonly BlockRun[]): BlockRun[] {
  const joined: BlockRun[] = [];
  let earlier: BlockRun | undefined;
  for (let i = 0; i < segments.length; i++) {
    const segment = segments[i];
    const later = i + 1 < segments.length ? segments[i + 1] : undefined;
    if (earlier && earlier.state === segment.state) earlier.endBlock = segment.endBlock;
    else if (blocksIn(segment) > length || !(earlier ?? later)) joined.push((earlier = segment));
    else if (earlier && blocksIn(earlier) >= (later ? blocksIn(later) : 0)) earlier.endBlock = segment.endBlock;
    else later!.startBlock = segment.startBlock;
  }
  return joined;
}

/** Sides that take turns being alone are not a clip that changes: they are two people on two microphones. */
function joinTurns(segments: BlockRun[], turnsIn: (segment: BlockRun) => number): BlockRun[] {
  const alone = segments.filter(({ state }) => state === 'left-only' || state === 'right-only');
  const within = alone.reduce((sum, segment) => sum + turnsIn(segment), 0);
  const turns = within + alone.filter((segment, i) => i > 0 && segment.state !== alone[i - 1].state).length;
  if (turns < TURNS) return segments;
  return [{ startBlock: segments[0].startBlock, endBlock: segments.at(-1)!.endBlock, state: 'in-turn' }];
}

/** How often the side changes that is alone, over single blocks that count. A late side is alone at the end of each word, but not for long. */
function countTurns(
  blocks: BlockFacts,
  { startBlock, endBlock }: BlockSpan,
  counts: (block: number) => boolean,
): number {
  let turns = 0;
  let run = 0;
  let side: 'left' | 'right' | null = null;
  let last: 'left' | 'right' | null = null;
  for (let i = startBlock; i < endBlock; i++) {
    const allowed = blocks[i];
    if (allowed === NOTHING_TOLD || !counts(i)) continue;
    const alone = allowed & ALONE_EITHER;
    const now = alone === LEFT_ONLY ? 'left' : alone === RIGHT_ONLY ? 'right' : null;
    run = now === side ? run + 1 : 1;
    side = now;
    if (side === null || run < TURN_BLOCKS || side === last) continue;
    if (last !== null) turns++;
    last = side;
  }
  return turns;
}
