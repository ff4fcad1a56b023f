import { blockSeriesWasm } from './blockSeries.wasm.ts';
import { instantiateKernel } from './instantiateKernel.ts';
import { MemoryPlan } from './kernelMemory.ts';

interface BlockSeriesExports {
  ranked(values: number, count: number, rank: number): number;
  keepAbove(values: number, count: number, least: number, orAt: boolean): number;
  placesBetween(values: number, count: number, least: number, most: number, places: number): number;
  placesOfEither(...[one, other, count, oneLeast, otherLeast, places]: number[]): number;
  largestAt(values: number, count: number, sign: number): number;
  raise(values: number, others: number, count: number): void;
  raiseTo(values: number, count: number, least: number): void;
  add(values: number, others: number, count: number): void;
  addWhereBoth(values: number, others: number, count: number, nothing: number): void;
  leaningTurn(one: number, other: number, places: number, count: number, furthest: number): number;
  total(values: number, count: number, each: number, last: number): number;
  markAbove(values: number, count: number, least: number, marks: number): void;
  markEither(marks: number, others: number, count: number): void;
  keepMarked(values: number, count: number, marks: number): number;
  markApart(marks: number, count: number, out: number): void;
  divide(values: number, count: number, divisor: number): void;
  replaceBelow(values: number, others: number, count: number, least: number): void;
  ratiosAt(one: number, other: number, places: number, count: number, beside: number, ratios: number): void;
  excessAt(...[one, other, places, count, mostly, unlike, ratios]: number[]): void;
  slidingMeans(values: number, count: number, length: number, places: number, out: number): void;
  largestOfSteady(values: number, count: number, length: number, steady: number, places: number, out: number): void;
  noiseOfWindows(
    ...[powers, count, length, nothing, loudest, steady, standsOut, alike, sorted, noise, sure]: number[]
  ): void;
  noiseBesides(...[powers, count, length, noise, sure, most, before, after]: number[]): void;
  cheapestPath(...[told, count, costs, size, change, before, next, cameFrom, path]: number[]): void;
}

const VALUE_BYTES = 8;
const PLACE_BYTES = 4;
const NOTHING = new Float64Array(0);

let shared: { memory: WebAssembly.Memory; kernel: BlockSeriesExports } | null = null;

/** @param lengths bytes wanted for each place @returns the kernel, its memory and where the places begin */
function kernelWith(...lengths: number[]): { kernel: BlockSeriesExports; buffer: ArrayBuffer; places: number[] } {
  const plan = new MemoryPlan();
  const places = lengths.map((bytes) => plan.claim(bytes));
  if (shared) plan.growInto(shared.memory);
  else {
    const memory = plan.make();
    shared = { memory, kernel: instantiateKernel<BlockSeriesExports>(blockSeriesWasm, memory) };
  }
  return { kernel: shared.kernel, buffer: shared.memory.buffer as ArrayBuffer, places };
}

/** Of some values, one at least, the one that is at a rank from 0 once they are sorted. */
export function ranked(values: ArrayLike<number>, rank: number): number {
  const {
    kernel,
    buffer,
    places: [at],
  } = kernelWith(values.length * VALUE_BYTES);
  new Float64Array(buffer, at).set(values);
  return kernel.ranked(at, values.length, rank);
}

/** Those of some values that are beyond the least, or at it too, in order. */
export function valuesAbove(values: Float64Array, least: number, orAt = false): Float64Array {
  const {
    kernel,
    buffer,
    places: [at],
  } = kernelWith(values.byteLength);
  new Float64Array(buffer, at).set(values);
  return new Float64Array(buffer, at, kernel.keepAbove(at, values.length, least, orAt)).slice();
}

/** Where values lie beyond `least` and under `most`, in order. */
export function placesBetween(values: Float64Array, least: number, most = Infinity): Int32Array {
  const { kernel, buffer, places: at } = kernelWith(values.byteLength, values.length * PLACE_BYTES);
  new Float64Array(buffer, at[0]).set(values);
  return new Int32Array(buffer, at[1], kernel.placesBetween(at[0], values.length, least, most, at[1])).slice();
}

/** Where the largest of some values is, one at least, or with `sign` −1 the least: the first of them. */
export function largestAt(values: Float64Array, sign: 1 | -1 = 1): number {
  const { kernel, buffer, places: at } = kernelWith(values.byteLength);
  new Float64Array(buffer, at[0]).set(values);
  return kernel.largestAt(at[0], values.length, sign);
}

/** Of each two values the larger one. */
export function largerOf(one: Float64Array, other: Float64Array): Float64Array {
  return changed(one, other, (kernel, values, others, count) => kernel.raise(values, others, count));
}

/** Each value, or the other one where it is less than `least`. */
export function orElse(values: Float64Array, least: number, others: Float64Array): Float64Array {
  return changed(values, others, (kernel, to, from, count) => kernel.replaceBelow(to, from, count, least));
}

/** Each value, or `least` where it is less. */
export function raisedTo(values: Float64Array, least: number): Float64Array {
  return changed(values, NOTHING, (kernel, to, _, count) => kernel.raiseTo(to, count, least));
}

/** Of each two values the sum. */
export function sumsOf(one: Float64Array, other: Float64Array): Float64Array {
  return changed(one, other, (kernel, values, others, count) => kernel.add(values, others, count));
}

export function dividedBy(values: Float64Array, divisor: number): Float64Array {
  return changed(values, NOTHING, (kernel, to, _, count) => kernel.divide(to, count, divisor));
}

function changed(
  values: Float64Array,
  others: Float64Array,
  change: (kernel: BlockSeriesExports, values: number, others: number, count: number) => void,
): Float64Array {
  const { kernel, buffer, places: at } = kernelWith(values.byteLength, others.byteLength);
  new Float64Array(buffer, at[0]).set(values);
  new Float64Array(buffer, at[1]).set(others);
  change(kernel, at[0], at[1], values.length);
  return new Float64Array(buffer, at[0], values.length).slice();
}

/** Of each two values the sum where both are beyond `nothing`, else 0. */
export function sumsWhereBoth(one: Float64Array, other: Float64Array, nothing: number): Float64Array {
  return changed(one, other, (kernel, values, others, count) => kernel.addWhereBoth(values, others, count, nothing));
}

/**
 * At some places one is larger than the other or less: after how many of them (`split`) that turns over, if anywhere. There the sum of the signs of what went
 * before is furthest from what it would be without a turn; `furthest` is as many as there are places where all lean one way before and the other way after.
 */
export function leaningTurn(
  one: Float64Array,
  other: Float64Array,
  where: Int32Array,
): { split: number; furthest: number } {
  const { kernel, buffer, places: at } = kernelWith(one.byteLength, other.byteLength, where.byteLength, VALUE_BYTES);
  new Float64Array(buffer, at[0]).set(one);
  new Float64Array(buffer, at[1]).set(other);
  new Int32Array(buffer, at[2]).set(where);
  const split = kernel.leaningTurn(at[0], at[1], at[2], where.length, at[3]);
  return { split, furthest: new Float64Array(buffer, at[3])[0] };
}

/** The sum of some values, in order, each taken `each` times and the last one `last` times. */
export function totalOf(values: Float64Array, each = 1, last = each): number {
  const { kernel, buffer, places: at } = kernelWith(values.byteLength);
  new Float64Array(buffer, at[0]).set(values);
  return kernel.total(at[0], values.length, each, last);
}

/** 1 for each value beyond the least, 0 for the others. */
export function marksAbove(values: Float64Array, least: number): Uint8Array {
  const { kernel, buffer, places: at } = kernelWith(values.byteLength, values.length);
  new Float64Array(buffer, at[0]).set(values);
  kernel.markAbove(at[0], values.length, least, at[1]);
  return new Uint8Array(buffer, at[1], values.length).slice();
}

/** 1 where either of two is marked. */
export function marksOfEither(one: Uint8Array, other: Uint8Array): Uint8Array {
  const { kernel, buffer, places: at } = kernelWith(one.length, other.length);
  new Uint8Array(buffer, at[0]).set(one);
  new Uint8Array(buffer, at[1]).set(other);
  kernel.markEither(at[0], at[1], one.length);
  return new Uint8Array(buffer, at[0], one.length).slice();
}

/** Those of some values that are marked, in order. */
export function markedOf(values: Float64Array, marks: Uint8Array): Float64Array {
  const { kernel, buffer, places: at } = kernelWith(values.byteLength, marks.length);
  new Float64Array(buffer, at[0]).set(values);
  new Uint8Array(buffer, at[1]).set(marks);
  return new Float64Array(buffer, at[0], kernel.keepMarked(at[0], values.length, at[1])).slice();
}

/** 1 where neither a place is marked nor those beside it, 0 elsewhere. */
export function marksApart(marks: Uint8Array): Uint8Array {
  const { kernel, buffer, places: at } = kernelWith(marks.length, marks.length);
  new Uint8Array(buffer, at[0]).set(marks);
  kernel.markApart(at[0], marks.length, at[1]);
  return new Uint8Array(buffer, at[1], marks.length).slice();
}

/** How much larger one value is than the other at some places, so much added to either. */
export function ratiosAt(one: Float64Array, other: Float64Array, where: Int32Array, beside: number): Float64Array {
  const {
    kernel,
    buffer,
    places: at,
  } = kernelWith(...[one.byteLength, other.byteLength, where.byteLength, where.length * VALUE_BYTES]);
  new Float64Array(buffer, at[0]).set(one);
  new Float64Array(buffer, at[1]).set(other);
  new Int32Array(buffer, at[2]).set(where);
  kernel.ratiosAt(at[0], at[1], at[2], where.length, beside, at[3]);
  return new Float64Array(buffer, at[3], where.length).slice();
}

/** Where one of two powers is unlike what it mostly is to the other. */
export interface UnlikePowers {
  /** The places where either is loud, but for the first and the last. */
  loud: Int32Array;
  /** At each of them what one has that the other, as much larger as it mostly is, does not account for; 0 where they are alike. */
  excess: Float64Array;
}

/**
 * @param oneLeast from here on one is loud, and the other from `otherLeast` on @param unlike by how many times more or less the ratio of the two is another
 */
export function unlikePowers(
  [one, oneLeast]: [Float64Array, number],
  [other, otherLeast]: [Float64Array, number],
  unlike: number,
): UnlikePowers {
  const count = one.length;
  const {
    kernel,
    buffer,
    places: at,
  } = kernelWith(...[one.byteLength, other.byteLength, count * PLACE_BYTES, one.byteLength, one.byteLength]);
  new Float64Array(buffer, at[0]).set(one);
  new Float64Array(buffer, at[1]).set(other);
  const found = kernel.placesOfEither(at[0], at[1], count, oneLeast, otherLeast, at[2]);
  const loud = new Int32Array(buffer, at[2], found).slice();
  if (found === 0) return { loud, excess: new Float64Array(0) };
  kernel.ratiosAt(at[0], at[1], at[2], found, 0, at[3]);
  // Ranking loses their order.
  new Float64Array(buffer, at[4]).set(new Float64Array(buffer, at[3], found));
  const mostly = kernel.ranked(at[4], found, found >> 1);
  kernel.excessAt(at[0], at[1], at[2], found, mostly, unlike, at[3]);
  return { loud, excess: new Float64Array(buffer, at[3], found).slice() };
}

/** The mean of `length` values from each of the first `places` on; those beyond the end are nothing. */
export function slidingMeans(values: Float64Array, length: number, places: number): Float64Array {
  const { kernel, buffer, places: at } = kernelWith(values.byteLength, places * VALUE_BYTES);
  new Float64Array(buffer, at[0]).set(values);
  kernel.slidingMeans(at[0], values.length, length, places, at[1]);
  return new Float64Array(buffer, at[1], places).slice();
}

/**
 * The largest of `length` values from each of the first `places` on, where none of them is 0 and it is no more than `steadyRatio` times the least; else
 * Infinity. Those beyond the end do not count.
 */
export function largestOfSteady(
  values: Float64Array,
  length: number,
  steadyRatio: number,
  places: number,
): Float64Array {
  const { kernel, buffer, places: at } = kernelWith(values.byteLength, places * VALUE_BYTES);
  new Float64Array(buffer, at[0]).set(values);
  kernel.largestOfSteady(at[0], values.length, length, steadyRatio, places, at[1]);
  return new Float64Array(buffer, at[1], places).slice();
}

/** What makes noise of the powers of a window. */
export interface NoiseTraits {
  windowBlocks: number;
  /** Digital silence: this and less. */
  nothingPower: number;
  loudestPower: number;
  /** Of the middle to the quietest of what is steady. */
  steadyRatio: number;
  /** Of the loud to the quietest of what falls back to its noise. */
  standsOutRatio: number;
  /** Where the noise is sure, this many of the quietest blocks but the least are steady. */
  alikeBlocks: number;
  /** Noise is no louder than this many times the block it is under. */
  mostRatio: number;
}

/**
 * The noise (a power) under each block as a window that ends with it and one that begins with it have it, but `mostRatio` times its power at most. Where
 * blocks are steady it is all noise, where they fall back as speech does it is what they fall back to; music tells nothing of its noise (0). Noise is sure
 * where the quietest blocks are alike: quiet syllables differ. Where only one window is sure it speaks for both.
 */
export function noiseOfWindows(
  powers: Float64Array,
  traits: NoiseTraits,
): { before: Float64Array; after: Float64Array } {
  const { length, byteLength } = powers;
  const { windowBlocks, nothingPower, loudestPower, steadyRatio, standsOutRatio, alikeBlocks, mostRatio } = traits;
  const {
    kernel,
    buffer,
    places: [from, sorted, noise, sure, before, after],
  } = kernelWith(byteLength, windowBlocks * VALUE_BYTES, byteLength, length, byteLength, byteLength);
  new Float64Array(buffer, from).set(powers);
  kernel.noiseOfWindows(
    ...[from, length, windowBlocks, nothingPower, loudestPower, steadyRatio, standsOutRatio, alikeBlocks],
    ...[sorted, noise, sure],
  );
  kernel.noiseBesides(from, length, windowBlocks, noise, sure, mostRatio, before, after);
  const valuesFrom = (at: number): Float64Array => new Float64Array(buffer, at, length).slice();
  return { before: valuesFrom(before), after: valuesFrom(after) };
}

/**
 * The cheapest path through `states` states, one a block (Viterbi, 1967). @param told of each block which row of the costs is its own
 * @param costs what each state costs, a row for all that a block may tell @param change what each change of state costs
 */
export function cheapestPath(told: Uint8Array, costs: Float64Array, states: number, change: number): Uint8Array {
  const { length } = told;
  const row = states * VALUE_BYTES;
  const {
    kernel,
    buffer,
    places: [from, table, before, next, cameFrom, path],
  } = kernelWith(length, costs.byteLength, row, row, length * states, length);
  new Uint8Array(buffer, from).set(told);
  new Float64Array(buffer, table).set(costs);
  kernel.cheapestPath(from, length, table, states, change, before, next, cameFrom, path);
  return new Uint8Array(buffer, path, length).slice();
}
