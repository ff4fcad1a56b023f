import { blockSeriesWasm } from './blockSeries.wasm.ts';
import { instantiateKernel } from './instantiateKernel.ts';
import { MemoryPlan } from './kernelMemory.ts';

interface BlockSeriesExports {
  ranked(values: number, count: number, rank: number): number;
  keepAbove(values: number, count: number, least: number, orAt: boolean): number;
  slidingMeans(values: number, count: number, length: number, places: number, out: number): void;
  largestOfSteady(values: number, count: number, length: number, steady: number, places: number, out: number): void;
  noiseOfWindows(
    ...[powers, count, length, nothing, loudest, steady, standsOut, alike, sorted, noise, sure]: number[]
  ): void;
  cheapestPath(...[told, count, costs, size, change, before, next, cameFrom, path]: number[]): void;
}

const VALUE_BYTES = 8;

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
}

/**
 * The noise (a power) that each block shows with those before it, by a window that ends with it, and whether it is sure (1). Where blocks are steady it is all
 * noise, where they fall back as speech does it is what they fall back to; music tells nothing of its noise (0). Noise is sure where the quietest blocks are
 * alike: quiet syllables differ.
 */
export function noiseOfWindows(powers: Float64Array, traits: NoiseTraits): { noise: Float64Array; sure: Uint8Array } {
  const { length } = powers;
  const { windowBlocks, nothingPower, loudestPower, steadyRatio, standsOutRatio, alikeBlocks } = traits;
  const {
    kernel,
    buffer,
    places: [from, sorted, noise, sure],
  } = kernelWith(powers.byteLength, windowBlocks * VALUE_BYTES, powers.byteLength, length);
  new Float64Array(buffer, from).set(powers);
  kernel.noiseOfWindows(
    ...[from, length, windowBlocks, nothingPower, loudestPower, steadyRatio, standsOutRatio, alikeBlocks],
    ...[sorted, noise, sure],
  );
  return { noise: new Float64Array(buffer, noise, length).slice(), sure: new Uint8Array(buffer, sure, length).slice() };
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
