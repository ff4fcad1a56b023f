import { SeriesKernel } from './seriesKernel.ts';
import { stretchSumsWasm } from './stretchSums.wasm.ts';

interface StretchSumsExports {
  squares(values: number, count: number): number;
  productsBelow(...[one, other, count, ceiling, otherCeiling, sums]: number[]): void;
  add(sums: number, values: number, count: number): void;
  largestMagnitude(values: number, count: number): number;
  crossings(values: number, count: number, share: number, most: number, out: number): number;
  multiply(values: number, count: number, factor: number): void;
  lessMeans(values: number, count: number, half: number, out: number): void;
  powersAround(left: number, right: number, count: number, half: number, pairs: number, room: number): void;
  evenOut(values: number, powers: number, others: number, count: number): void;
}

const VALUE_BYTES = 8;

const series = new SeriesKernel<StretchSumsExports>(stretchSumsWasm);

export function sumOfSquares(sound: Float64Array): number {
  const { kernel, at } = series.laid([sound]);
  return kernel.squares(at[0], sound.length);
}

/** Of its samples; 0 where there are none. */
export function largestMagnitude(sound: Float64Array): number {
  const { kernel, at } = series.laid([sound]);
  return kernel.largestMagnitude(at[0], sound.length);
}

/**
 * Where a sound goes through its mean, in samples and to a fraction of one; null where it does more often than `most`.
 * @param hysteresis one counts where the sound goes this far to the other side, as a share of its mean distance from the mean
 */
export function crossingsOf(sound: Float64Array, hysteresis: number, most: number): Float64Array | null {
  const { kernel, buffer, at } = series.laid([sound], most * VALUE_BYTES);
  const count = kernel.crossings(at[0], sound.length, hysteresis, most, at[1]);
  return count > most ? null : new Float64Array(buffer, at[1], count).slice();
}

/** Mean square. */
export function powerOf(sound: Float64Array): number {
  return sumOfSquares(sound) / sound.length;
}

/** Sums of squares of two sounds, and of their products. */
export interface SumsOfProducts {
  left: number;
  right: number;
  both: number;
}

/** Of two sounds, as long as each other. @param ceilings of samples with magnitudes below these */
export function sumsOfProducts(
  left: Float64Array,
  right: Float64Array,
  ceilings: readonly [number, number] = [Infinity, Infinity],
): SumsOfProducts {
  const { kernel, buffer, at } = series.laid([left, right], 3 * VALUE_BYTES);
  kernel.productsBelow(at[0], at[1], left.length, ...ceilings, at[2]);
  const [ofLeft, ofRight, both] = new Float64Array(buffer, at[2], 3);
  return { left: ofLeft, right: ofRight, both };
}

/** The mean of some series, as long as each other, at each of their places. */
export function meanOfSeries(some: readonly Float64Array[]): Float64Array {
  const [{ length }] = some;
  const { kernel, buffer, at } = series.laid(some);
  const [sums, ...others] = at;
  for (const values of others) kernel.add(sums, values, length);
  kernel.multiply(sums, length, 1 / some.length);
  return new Float64Array(buffer, sums, length).slice();
}

/** @param into to be filled, as long as the sound; it may be the sound itself */
export function multiplied(sound: Float64Array, factor: number, into: Float64Array): Float64Array {
  const { kernel, buffer, at } = series.laid([sound]);
  kernel.multiply(at[0], sound.length, factor);
  into.set(new Float64Array(buffer, at[0], sound.length));
  return into;
}

/** Each value less the mean of it and of `half` values to either side, twice; beyond either end they go on as they are there. @param into to be filled */
export function lessMeansTwice(values: Float64Array, half: number, into: Float64Array): Float64Array {
  if (values.length === 0) return into;
  const { kernel, buffer, at } = series.laid([values], values.byteLength);
  kernel.lessMeans(at[0], values.length, half, at[1]);
  kernel.lessMeans(at[1], values.length, half, at[0]);
  into.set(new Float64Array(buffer, at[0], values.length));
  return into;
}

/** The right side as loud as the left at every moment, and the powers that tell how loud. */
export interface Evened {
  right: Float64Array;
  leftPower: Float64Array;
  rightPower: Float64Array;
}

/**
 * @param shift how many samples the right side is later @param half samples to either side of one that tell how loud it is there; twice over
 * @param into to be filled, each as long as either side
 */
export function evened(left: Float64Array, right: Float64Array, shift: number, half: number, into: Evened): Evened {
  const { length, byteLength } = left;
  const { kernel, buffer, at } = series.laid([left, right, right], 2 * byteLength, 2 * byteLength);
  const [leftPower, rightPower, values, pairs, room] = at;
  kernel.powersAround(leftPower, rightPower, length, half, pairs, room);
  // Where the left side has the same sound.
  const first = Math.max(0, shift);
  const end = Math.min(length, length + shift);
  const [own, heard] = [first, first - shift].map((frame) => frame * VALUE_BYTES);
  if (end > first) kernel.evenOut(values + own, rightPower + own, leftPower + heard, end - first);
  const valuesFrom = (place: number): Float64Array => new Float64Array(buffer, place, length);
  into.right.set(valuesFrom(values));
  into.leftPower.set(valuesFrom(leftPower));
  into.rightPower.set(valuesFrom(rightPower));
  return into;
}
