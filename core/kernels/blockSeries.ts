import { blockSeriesWasm } from './blockSeries.wasm.ts';
import { SeriesKernel } from './seriesKernel.ts';

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

const series = new SeriesKernel<BlockSeriesExports>(blockSeriesWasm);

/** Of some values, one at least, the one that is at a rank from 0 once they are sorted. */
export function ranked(values: ArrayLike<number>, rank: number): number {
  const { kernel, at } = series.laid([values instanceof Float64Array ? values : Float64Array.from(values)]);
  return kernel.ranked(at[0], values.length, rank);
}

/** Those of some values that are beyond the least, or at it too, in order. */
export function valuesAbove(values: Float64Array, least: number, orAt = false): Float64Array {
  const { kernel, buffer, at } = series.laid([values]);
  return new Float64Array(buffer, at[0], kernel.keepAbove(at[0], values.length, least, orAt)).slice();
}

/** Where values lie beyond `least` and under `most`, in order. */
export function placesBetween(values: Float64Array, least: number, most = Infinity): Int32Array {
  const { kernel, buffer, at } = series.laid([values], values.length * PLACE_BYTES);
  return new Int32Array(buffer, at[1], kernel.placesBetween(at[0], values.length, least, most, at[1])).slice();
}

/** Where the largest of some values is, one at least, or with `sign` −1 the least: the first of them. */
export function largestAt(values: Float64Array, sign: 1 | -1 = 1): number {
  const { kernel, at } = series.laid([values]);
  return kernel.largestAt(at[0], values.length, sign);
}

/** Of each two values the larger one. */
export function largerOf(one: Float64Array, other: Float64Array): Float64Array {
  return changed(one, [other], (kernel, at, count) => kernel.raise(at[0], at[1], count));
}

/** Each value, or the other one where it is less than `least`. */
export function orElse(values: Float64Array, least: number, others: Float64Array): Float64Array {
  return changed(values, [others], (kernel, at, count) => kernel.replaceBelow(at[0], at[1], count, least));
}

/** Each value, or `least` where it is less. */
export function raisedTo(values: Float64Array, least: number): Float64Array {
  return changed(values, [], (kernel, at, count) => kernel.raiseTo(at[0], count, least));
}

/** Of each two values the sum. */
export function sumsOf(one: Float64Array, other: Float64Array): Float64Array {
  return changed(one, [other], (kernel, at, count) => kernel.add(at[0], at[1], count));
}

/** Of each two values the sum where both are beyond `nothing`, else 0. */
export function sumsWhereBoth(one: Float64Array, other: Float64Array, nothing: number): Float64Array {
  return changed(one, [other], (kernel, at, count) => kernel.addWhereBoth(at[0], at[1], count, nothing));
}

export function dividedBy(values: Float64Array, divisor: number): Float64Array {
  return changed(values, [], (kernel, at, count) => kernel.divide(at[0], count, divisor));
}

/** What the first of some series becomes. */
function changed(
  values: Float64Array,
  others: Float64Array[],
  change: (kernel: BlockSeriesExports, at: number[], count: number) => void,
): Float64Array {
  const { kernel, buffer, at } = series.laid([values, ...others]);
  change(kernel, at, values.length);
  return new Float64Array(buffer, at[0], values.length).slice();
}

/** The sum of some values, in order, each taken `each` times and the last one `last` times. */
export function totalOf(values: Float64Array, each = 1, last = each): number {
  const { kernel, at } = series.laid([values]);
  return kernel.total(at[0], values.length, each, last);
}

/** 1 for each value beyond the least, 0 for the others. */
export function marksAbove(values: Float64Array, least: number): Uint8Array {
  const { kernel, buffer, at } = series.laid([values], values.length);
  kernel.markAbove(at[0], values.length, least, at[1]);
  return new Uint8Array(buffer, at[1], values.length).slice();
}

/** 1 where either of two is marked. */
export function marksOfEither(one: Uint8Array, other: Uint8Array): Uint8Array {
  const { kernel, buffer, at } = series.laid([one, other]);
  kernel.markEither(at[0], at[1], one.length);
  return new Uint8Array(buffer, at[0], one.length).slice();
}

/** 1 where neither a place is marked nor those beside it, 0 elsewhere. */
export function marksApart(marks: Uint8Array): Uint8Array {
  const { kernel, buffer, at } = series.laid([marks], marks.length);
  kernel.markApart(at[0], marks.length, at[1]);
  return new Uint8Array(buffer, at[1], marks.length).slice();
}

/** Those of some values that are marked, in order. */
export function markedOf(values: Float64Array, marks: Uint8Array): Float64Array {
  const { kernel, buffer, at } = series.laid([values, marks]);
  return new Float64Array(buffer, at[0], kernel.keepMarked(at[0], values.length, at[1])).slice();
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
  const { kernel, buffer, at } = series.laid([one, other, where], VALUE_BYTES);
  const split = kernel.leaningTurn(at[0], at[1], at[2], where.length, at[3]);
  return { split, furthest: new Float64Array(buffer, at[3])[0] };
}

/** How much larger one value is than the other at some places, so much added to either. */
export function ratiosAt(one: Float64Array, other: Float64Array, where: Int32Array, beside: number): Float64Array {
  const { kernel, buffer, at } = series.laid([one, other, where], where.length * VALUE_BYTES);
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
  const { length, byteLength } = one;
  const { kernel, buffer, at } = series.laid([one, other], length * PLACE_BYTES, byteLength, byteLength);
  const [, , places, ratios, sorted] = at;
  const found = kernel.placesOfEither(at[0], at[1], length, oneLeast, otherLeast, places);
  const loud = new Int32Array(buffer, places, found).slice();
  if (found === 0) return { loud, excess: new Float64Array(0) };
  kernel.ratiosAt(at[0], at[1], places, found, 0, ratios);
  // Ranking loses their order.
  new Float64Array(buffer, sorted).set(new Float64Array(buffer, ratios, found));
  const mostly = kernel.ranked(sorted, found, found >> 1);
  kernel.excessAt(at[0], at[1], places, found, mostly, unlike, ratios);
  return { loud, excess: new Float64Array(buffer, ratios, found).slice() };
}

/** The mean of `length` values from each of the first `places` on; those beyond the end are nothing. */
export function slidingMeans(values: Float64Array, length: number, places: number): Float64Array {
  const { kernel, buffer, at } = series.laid([values], places * VALUE_BYTES);
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
  const { kernel, buffer, at } = series.laid([values], places * VALUE_BYTES);
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
  const { kernel, buffer, at } = series.laid(
    [powers],
    ...[windowBlocks * VALUE_BYTES, byteLength, length, byteLength, byteLength],
  );
  const [from, sorted, noise, sure, before, after] = at;
  kernel.noiseOfWindows(
    ...[from, length, windowBlocks, nothingPower, loudestPower, steadyRatio, standsOutRatio, alikeBlocks],
    ...[sorted, noise, sure],
  );
  kernel.noiseBesides(from, length, windowBlocks, noise, sure, mostRatio, before, after);
  const valuesFrom = (place: number): Float64Array => new Float64Array(buffer, place, length).slice();
  return { before: valuesFrom(before), after: valuesFrom(after) };
}

/**
 * The cheapest path through `states` states, one a block (Viterbi, 1967). @param told of each block which row of the costs is its own
 * @param costs what each state costs, a row for all that a block may tell @param change what each change of state costs
 */
export function cheapestPath(told: Uint8Array, costs: Float64Array, states: number, change: number): Uint8Array {
  const { length } = told;
  const row = states * VALUE_BYTES;
  const { kernel, buffer, at } = series.laid([told, costs], row, row, length * states, length);
  const [from, table, before, next, cameFrom, path] = at;
  kernel.cheapestPath(from, length, table, states, change, before, next, cameFrom, path);
  return new Uint8Array(buffer, path, length).slice();
}
