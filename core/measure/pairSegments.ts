import { dbFromPower, powerFromDb } from '../signal/decibels.ts';
import type { ChannelMeasurement, PairMeasurement } from './measurement.ts';
import { noiseBesides } from './noiseBesides.ts';
import { NOTHING_POWER, percentile } from './noiseFloor.ts';

type BlockState = 'left-only' | 'right-only' | 'same' | 'scaled' | 'inverted' | 'different';

/** What two sides do at no lag: which of them sounds, whether they are copies of each other, whether each is alone by turns. */
export type PairState = BlockState | 'in-turn';

/** A stretch of blocks, from and up to, in which a pair stays in one state. */
export interface PairSegment {
  from: number;
  to: number;
  state: PairState;
  /** The first and the last block with which it may begin: in a pause block sums can't tell. */
  begins: [number, number];
}

type BlockRun = Omit<PairSegment, 'begins'>;

const STATES: BlockState[] = ['left-only', 'right-only', 'same', 'scaled', 'inverted', 'different'];
const STANDS_OUT = powerFromDb(10);
const AUDIBLE_POWER = powerFromDb(-100);
const TURNS = 2;
const TURN_BLOCKS = 4;
// Each is about as loud as the other.
const TURN_POWER = powerFromDb(-20);
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
const LESS_TELLING: Record<BlockState, number> = { 'left-only': 0, 'right-only': 0, same: 0, scaled: 0.15, inverted: 0.15, different: 0.25 };
// Where nothing is told, the pair is different until shown otherwise.
const UNKNOWN = 0.005;
const CHANGE = 3.5;
// So many telling blocks in a row are right.
const SURE_BLOCKS = 3;
const SHORTEST_SECONDS = 1;

/**
 * Cuts a pair's time into segments by its block sums: the cheapest path through the states (Viterbi, 1967), where a change
 * costs as much as three and a half contradicting blocks, so that single blocks and pauses change nothing.
 */
export function pairSegments(
  sides: [ChannelMeasurement, ChannelMeasurement], pair: PairMeasurement, blockSeconds: number,
): PairSegment[] {
  const blocks = blockFacts(sides, pair);
  const count = blocks.length;
  if (count === 0) return [];
  const path = cheapestPath(blocks);
  const segments: BlockRun[] = [];
  for (let i = 0; i < count; i++) {
    const last = segments.at(-1);
    if (last && last.state === STATES[path[i]]) last.to = i + 1;
    else segments.push({ from: i, to: i + 1, state: STATES[path[i]] });
  }
  const turnsIn = ({ from, to }: BlockRun): number => {
    const louder = Float64Array.from({ length: to - from }, (_, i) => Math.max(...sides.map(({ blockSpeechPower }) => blockSpeechPower[from + i])));
    const least = TURN_POWER * percentile(louder, 0.9);
    return countTurns(blocks.slice(from, to).filter((_, i) => louder[i] >= least));
  };
  return joinTurns(joinShort(segments, SHORTEST_SECONDS / blockSeconds), turnsIn).map((segment, s) => ({
    ...segment,
    state: segment.state === 'different' && turnsIn(segment) >= TURNS ? 'in-turn' : segment.state,
    begins: s === 0 ? [0, 0] : beginnings(segment.from, blocks),
  }));
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
  return turns >= TURNS ? dropped.map(() => null) : dropped;
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
  const allowed: Record<BlockState, boolean> = {
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
    const alone = allowed !== null && (allowed[STATES.indexOf('left-only')] || allowed[STATES.indexOf('right-only')]);
    const costOf = (state: BlockState, fits: boolean): number => {
      if (!fits || (alone && state === 'different')) return CONTRADICTS;
      return telling ? LESS_TELLING[state] : 0;
    };
    for (let s = 0; s < size; s++) {
      const stays = costs[s] <= costs[cheapest] + CHANGE;
      cameFrom[i * size + s] = stays ? s : cheapest;
      const own = allowed === null ? (STATES[s] === 'different' ? 0 : UNKNOWN) : costOf(STATES[s], allowed[s]);
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

/**
 * The first and the last block with which a segment may begin that was found to begin at some block: block sums know no better than to the
 * pause it begins in, and one or two telling blocks at the end of a pause may be wrong.
 */
function beginnings(at: number, blocks: BlockFacts[]): [number, number] {
  const pauseEnd = (block: number, step: 1 | -1): number => {
    let end = block;
    for (let [i, telling] = [block, 0]; telling < SURE_BLOCKS && i > 0 && i < blocks.length; i += step) {
      if (blocks[i] === null) [end, telling] = [i + step, 0];
      else telling++;
    }
    return end;
  };
  return [Math.max(1, pauseEnd(at - 1, -1) + 1), Math.min(blocks.length - 1, pauseEnd(at, 1))];
}

function joinShort(segments: BlockRun[], least: number): BlockRun[] {
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
function joinTurns(segments: BlockRun[], turnsIn: (segment: BlockRun) => number): BlockRun[] {
  const alone = segments.filter(({ state }) => state === 'left-only' || state === 'right-only');
  const within = alone.reduce((sum, segment) => sum + turnsIn(segment), 0);
  const turns = within + alone.filter((segment, i) => i > 0 && segment.state !== alone[i - 1].state).length;
  if (turns < TURNS) return segments;
  return [{ from: segments[0].from, to: segments.at(-1)!.to, state: 'in-turn' }];
}

/** How often the side changes that is alone, over single blocks. A late side is alone at the end of each word, but not for long. */
function countTurns(blocks: BlockFacts[]): number {
  const [left, right] = (['left-only', 'right-only'] as const).map((state) => STATES.indexOf(state));
  let [turns, run] = [0, 0];
  let [side, last]: ('left' | 'right' | null)[] = [null, null];
  for (const allowed of blocks) {
    if (allowed === null) continue;
    const now = allowed[left] === allowed[right] ? null : allowed[left] ? 'left' : 'right';
    run = now === side ? run + 1 : 1;
    side = now;
    if (side === null || run < TURN_BLOCKS || side === last) continue;
    if (last !== null) turns++;
    last = side;
  }
  return turns;
}

function joinEqual(segments: BlockRun[]): BlockRun[] {
  return segments.reduce<BlockRun[]>((kept, segment) => {
    const last = kept.at(-1);
    if (last && last.state === segment.state) last.to = segment.to;
    else kept.push(segment);
    return kept;
  }, []);
}
