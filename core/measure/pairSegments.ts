import { dbFromPower, powerFromDb } from '../signal/decibels.ts';
import type { ChannelMeasurement, PairMeasurement } from './measurement.ts';
import { noiseBesides } from './noiseBesides.ts';
import { NOTHING_POWER } from './noiseFloor.ts';

/** What two sides do at no lag: which of them sounds, and whether they are copies of each other. */
export type PairState = 'left-only' | 'right-only' | 'same' | 'scaled' | 'inverted' | 'different';

/** A stretch of blocks, from and up to, in which a pair stays in one state. */
export interface PairSegment {
  from: number;
  to: number;
  state: PairState;
}

const STATES: PairState[] = ['left-only', 'right-only', 'same', 'scaled', 'inverted', 'different'];
const STANDS_OUT = powerFromDb(10);
const AUDIBLE_POWER = powerFromDb(-80);
const GATED_TURNS = 2;
// What a block must show to allow a state. Copies null deeply, but never deeper than their own noise.
const SAME_NULL_DB = -36;
const COPY_NULL_DB = -30;
// Copied within a file: no converter keeps two noises this much alike.
const EXACT = powerFromDb(-90);
const ALONE_DB = 28;
// Noise is known to this share of itself from one block.
const BLOCK_NOISE_SHARE = 0.15;
// Costs of a block that contradicts a state, of the less telling one where a more telling one fits too, and of a change.
const CONTRADICTS = 1;
const LESS_TELLING: Record<PairState, number> = { 'left-only': 0, 'right-only': 0, same: 0, scaled: 0.15, inverted: 0.15, different: 0.25 };
// Where nothing is told, the pair is different until shown otherwise.
const UNKNOWN = 0.005;
const CHANGE = 4;
const SHORTEST_SECONDS = 1;

/**
 * Cuts a pair's time into segments by its block sums: the cheapest path through the states (Viterbi, 1967), where a change
 * costs as much as four contradicting blocks, so that single blocks and pauses change nothing.
 */
export function pairSegments(
  sides: [ChannelMeasurement, ChannelMeasurement], pair: PairMeasurement, blockSeconds: number,
): PairSegment[] {
  const blocks = blockFacts(sides, pair);
  const count = blocks.length;
  if (count === 0) return [];
  const path = cheapestPath(blocks);
  const segments: PairSegment[] = [];
  for (let i = 0; i < count; i++) {
    const last = segments.at(-1);
    if (last && last.state === STATES[path[i]]) last.to = i + 1;
    else segments.push({ from: i, to: i + 1, state: STATES[path[i]] });
  }
  placeBoundaries(segments, blocks, sides, (i) => (
    isExactCopy(sides[0].blockSpeechPower[i], sides[1].blockSpeechPower[i], pair.blockSpeechProduct[i])
  ));
  return joinTurns(joinShort(segments, SHORTEST_SECONDS / blockSeconds));
}

/** Which states a block allows; null where nothing sounds. */
type BlockFacts = boolean[] | null;

function blockFacts([left, right]: [ChannelMeasurement, ChannelMeasurement], pair: PairMeasurement): BlockFacts[] {
  const noises = [left, right].map(({ blockSpeechPower }) => noiseBesides(blockSpeechPower));
  const dropouts = droppedSides(left.blockSpeechPower, right.blockSpeechPower);
  return Array.from(left.blockSpeechPower, (l, i) => {
    const r = right.blockSpeechPower[i];
    const product = pair.blockSpeechProduct[i];
    if (l + r <= NOTHING_POWER) return null;
    if (isExactCopy(l, r, product)) return allowedStates(l, r, product, 0, 0);
    if (dropouts[i] !== null) return STATES.map((state) => state === (dropouts[i] === 'left' ? 'right-only' : 'left-only'));
    // Where the recording changes, the noise is that of before or that of after: a block speaks only where it does with either.
    const [before, after] = (['before', 'after'] as const).map((side) => {
      const [leftNoise, rightNoise] = [noises[0][side][i], noises[1][side][i]];
      const sounds = l > STANDS_OUT * leftNoise || r > STANDS_OUT * rightNoise;
      return sounds ? allowedStates(l, r, product, leftNoise, rightNoise) : null;
    });
    return before && after && before.map((allowed, s) => allowed || after[s]);
  });
}

/** Noise that is the same on both sides to the last bits, but for level and polarity, was copied with the rest. */
function isExactCopy(l: number, r: number, product: number): boolean {
  return l + r - 2 * product < EXACT * (l + r) || l * r - product * product < EXACT * l * r;
}

/**
 * Which side is digital silence while the other sounds, a block: a microphone always has its noise, so it has dropped out. Sides that are
 * switched off by turns are gated, and drop out of nothing.
 */
function droppedSides(left: Float64Array, right: Float64Array): ('left' | 'right' | null)[] {
  const dropped = Array.from(left, (l, i) => (
    Math.min(l, right[i]) > NOTHING_POWER || Math.max(l, right[i]) <= AUDIBLE_POWER ? null : l <= NOTHING_POWER ? 'left' as const : 'right' as const
  ));
  const sides = dropped.filter((side) => side !== null);
  const turns = sides.filter((side, i) => i > 0 && side !== sides[i - 1]).length;
  return turns >= GATED_TURNS ? dropped.map(() => null) : dropped;
}

function allowedStates(l: number, r: number, product: number, leftNoise: number, rightNoise: number): boolean[] {
  const [left, right] = [Math.max(l - leftNoise, 0), Math.max(r - rightNoise, 0)];
  const unsure = BLOCK_NOISE_SHARE * (leftNoise + rightNoise);
  const reachDb = dbFromPower((unsure + 1e-12 * (l + r)) / (l + r));
  const difference = Math.max(l + r - 2 * product - leftNoise - rightNoise, 0) + unsure;
  const plainDb = dbFromPower(difference / Math.max(l + r + 2 * product, 1e-30));
  const likeness = left > 0 && right > 0 ? Math.min(1, product ** 2 / (left * right)) : 0;
  const copyDb = dbFromPower(1 - likeness + 1e-12);
  const copies = copyDb <= Math.max(COPY_NULL_DB, reachDb + 9) && left > 0 && right > 0;
  const aloneDb = dbFromPower((left + 1e-30) / (right + 1e-30));
  const leftFaint = left < Math.max(STANDS_OUT * leftNoise * 0.3, 1e-12);
  const rightFaint = right < Math.max(STANDS_OUT * rightNoise * 0.3, 1e-12);
  const allowed: Record<PairState, boolean> = {
    'left-only': aloneDb >= ALONE_DB || (rightFaint && !leftFaint),
    'right-only': aloneDb <= -ALONE_DB || (leftFaint && !rightFaint),
    same: plainDb <= Math.max(SAME_NULL_DB, reachDb + 6),
    scaled: copies && product > 0,
    inverted: copies && product < 0,
    different: true,
  };
  return STATES.map((state) => allowed[state]);
}

function cheapestPath(blocks: BlockFacts[]): Uint8Array {
  const size = STATES.length;
  const cameFrom = new Uint8Array(blocks.length * size);
  let costs = new Float64Array(size);
  blocks.forEach((allowed, i) => {
    const next = new Float64Array(size);
    let cheapest = 0;
    for (let s = 1; s < size; s++) if (costs[s] < costs[cheapest]) cheapest = s;
    const telling = allowed?.some((fits, s) => fits && STATES[s] !== 'different') ?? false;
    for (let s = 0; s < size; s++) {
      const stays = costs[s] <= costs[cheapest] + CHANGE;
      cameFrom[i * size + s] = stays ? s : cheapest;
      const own = allowed === null ? (STATES[s] === 'different' ? 0 : UNKNOWN) : allowed[s] ? (telling ? LESS_TELLING[STATES[s]] : 0) : CONTRADICTS;
      next[s] = (stays ? costs[s] : costs[cheapest] + CHANGE) + own;
    }
    costs = next;
  });
  const path = new Uint8Array(blocks.length);
  let state = costs.indexOf(Math.min(...costs));
  for (let i = blocks.length - 1; i >= 0; i--) {
    path[i] = state;
    state = cameFrom[i * size + state];
  }
  return path;
}

/** Within the pause around a change, the boundary belongs where the noise before it gives way to the noise after it. */
function placeBoundaries(
  segments: PairSegment[], blocks: BlockFacts[], sides: [ChannelMeasurement, ChannelMeasurement], isExact: (block: number) => boolean,
): void {
  const mostlyExact = ({ from, to }: { from: number; to: number }): boolean => {
    let exact = 0;
    for (let i = from; i < to; i++) if (isExact(i)) exact++;
    return exact > 0.5 * (to - from);
  };
  for (let s = 1; s < segments.length; s++) {
    const at = segments[s].from;
    let first = at;
    while (first > segments[s - 1].from + 1 && blocks[first - 1] === null) first--;
    let last = at;
    while (last < segments[s].to - 1 && blocks[last] === null) last++;
    if (first === last) continue;
    // An exact copy is one in its pauses, too: a pause that is none belongs to the other.
    const [copyBefore, copyAfter] = [mostlyExact({ ...segments[s - 1], to: first }), mostlyExact({ ...segments[s], from: last })];
    const boundary = copyBefore !== copyAfter ? (copyBefore ? first : last) : first + cheapestSplit(sides.map(({ blockPower }) => ({
      pause: Array.from(blockPower.subarray(first, last), quietDb),
      before: floorDb(blockPower.subarray(segments[s - 1].from, first)),
      after: floorDb(blockPower.subarray(last, segments[s].to)),
    })));
    segments[s - 1].to = boundary;
    segments[s].from = boundary;
  }
}

/** How many blocks of a pause lie nearer to what was quiet before it than to what is quiet after it, both sides together. */
function cheapestSplit(sides: { pause: number[]; before: number | null; after: number | null }[]): number {
  const { length } = sides[0].pause;
  let cost = 0;
  let [best, least] = [0, 0];
  for (let i = 0; i < length; i++) {
    for (const { pause, before, after } of sides) cost += distanceDb(pause[i], before) - distanceDb(pause[i], after);
    if (cost < least) [best, least] = [i + 1, cost];
  }
  return best;
}

// What a segment without a pause of its own has for noise nobody knows.
const UNKNOWN_FLOOR_DB = 3;
const FLOOR_SPREAD_DB = 3;
const FLOOR_BLOCKS = 3;
const PAUSE_DEPTH_DB = 15;
// Below the last bit of 16-bit sound one silence is like another, but not like noise.
const quietDb = (power: number): number => dbFromPower(Math.max(power, 1e-11));

function distanceDb(level: number, floor: number | null): number {
  return floor === null ? UNKNOWN_FLOOR_DB : Math.abs(level - floor);
}

/** The noise that a side falls back to: it comes back to one level, far below the rest or nearly all the time. null where it does not. */
function floorDb(powers: Float64Array): number | null {
  const levels = Array.from(powers, quietDb).sort((a, b) => a - b);
  if (levels.length === 0) return null;
  const low = levels[Math.min(1, levels.length - 1)];
  const quiet = levels.filter((level) => level <= low + FLOOR_SPREAD_DB).length;
  const falls = levels[levels.length >> 1] > low + PAUSE_DEPTH_DB;
  return quiet >= FLOOR_BLOCKS && (falls || quiet > 0.8 * levels.length) ? low : null;
}

function joinShort(segments: PairSegment[], least: number): PairSegment[] {
  let joined = segments;
  while (joined.length > 1) {
    const shortest = joined.reduce((a, b) => (b.to - b.from < a.to - a.from ? b : a));
    if (shortest.to - shortest.from >= least) break;
    const i = joined.indexOf(shortest);
    const neighbour = i === 0 || (i < joined.length - 1 && joined[i + 1].to - joined[i + 1].from > joined[i - 1].to - joined[i - 1].from) ? joined[i + 1] : joined[i - 1];
    neighbour.from = Math.min(neighbour.from, shortest.from);
    neighbour.to = Math.max(neighbour.to, shortest.to);
    joined = joinEqual(joined.filter((segment) => segment !== shortest));
  }
  return joined;
}

/** Sides that take turns being alone are not a clip that changes: they are two people on two microphones. */
function joinTurns(segments: PairSegment[]): PairSegment[] {
  const alone = segments.filter(({ state }) => state === 'left-only' || state === 'right-only');
  const turns = alone.filter((segment, i) => i > 0 && segment.state !== alone[i - 1].state).length;
  if (turns < 2) return segments;
  return [{ from: segments[0].from, to: segments.at(-1)!.to, state: 'different' }];
}

function joinEqual(segments: PairSegment[]): PairSegment[] {
  return segments.reduce<PairSegment[]>((kept, segment) => {
    const last = kept.at(-1);
    if (last && last.state === segment.state) last.to = segment.to;
    else kept.push(segment);
    return kept;
  }, []);
}
