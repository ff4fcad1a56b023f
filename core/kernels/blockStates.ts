import { blockStatesWasm } from './blockStates.wasm.ts';
import { instantiateKernel } from './instantiateKernel.ts';
import { MemoryPlan } from './kernelMemory.ts';

interface BlockStatesExports {
  blockStates(...[left, right, products, noises, alone, count, thresholds, out]: number[]): void;
  areExactBlocks(left: number, right: number, products: number, count: number, thresholds: number): number;
}

/** Of the blocks of a pair the powers of either side and their mean product. */
export interface PairSeries {
  left: Float64Array;
  right: Float64Array;
  product: Float64Array;
}

/** The noise under each block of one side, as what lies before the block has it and what lies after. */
export interface BlockNoise {
  before: Float64Array;
  after: Float64Array;
}

/** All are ratios of powers, but for the first. */
export interface StateThresholds {
  /** This and less is digital silence. */
  nothingPower: number;
  /** Sides that differ by less are the same to the last bits. */
  exact: number;
  /** What stands so far out of the noise is told from it. */
  standsOut: number;
  /** To this share of itself noise is known from one block. */
  noiseShare: number;
  /** Copies null at least so deep, or to within so much of their own noise. */
  copyNull: number;
  copyReach: number;
  /** And sides that are the same as they are. */
  sameNull: number;
  sameReach: number;
  /** A side that is so much louder is alone. */
  alone: number;
}

let shared: { memory: WebAssembly.Memory; kernel: BlockStatesExports } | null = null;

/**
 * What each block allows the pair to be: bits for the left or the right side alone (1, 2), the same on both (4), at another level (8), inverted (16), and
 * different (32); 0 where nothing sounds. @param alone of each block a bit that is sure, or 0
 */
export function blockStates(
  series: PairSeries,
  noises: [BlockNoise, BlockNoise],
  alone: Uint8Array,
  thresholds: StateThresholds,
): Uint8Array {
  const { length } = alone;
  const { kernel, buffer, at, place } = laidOut(series, thresholds, [4 * series.left.byteLength, length, length]);
  const [noise, sure, out] = place;
  noises
    .flatMap(({ before, after }) => [before, after])
    .forEach((values, i) => new Float64Array(buffer, noise + i * values.byteLength, length).set(values));
  new Uint8Array(buffer, sure, length).set(alone);
  kernel.blockStates(at.left, at.right, at.product, noise, sure, length, at.thresholds, out);
  return new Uint8Array(buffer, out, length).slice();
}

/** Whether both sides are the same to the last bits, but for level and polarity, in all of these blocks. */
export function areExactBlocks(series: PairSeries, thresholds: StateThresholds): boolean {
  const { kernel, at } = laidOut(series, thresholds, []);
  return kernel.areExactBlocks(at.left, at.right, at.product, series.left.length, at.thresholds) !== 0;
}

/** The kernel with the series and the thresholds in its memory, and places for so many bytes more. */
function laidOut({ left, right, product }: PairSeries, thresholds: StateThresholds, lengths: number[]) {
  const { nothingPower, exact, standsOut, noiseShare, copyNull, copyReach, sameNull, sameReach, alone } = thresholds;
  const told = Float64Array.of(
    ...[nothingPower, exact, standsOut, noiseShare, copyNull, copyReach, sameNull, sameReach, alone],
  );
  const values = [left, right, product, told];
  const plan = new MemoryPlan();
  const starts = values.map(({ byteLength }) => plan.claim(byteLength));
  const place = lengths.map((bytes) => plan.claim(bytes));
  if (shared) plan.growInto(shared.memory);
  else {
    const memory = plan.make();
    shared = { memory, kernel: instantiateKernel<BlockStatesExports>(blockStatesWasm, memory) };
  }
  const buffer = shared.memory.buffer as ArrayBuffer;
  values.forEach((series, i) => new Float64Array(buffer, starts[i], series.length).set(series));
  const at = { left: starts[0], right: starts[1], product: starts[2], thresholds: starts[3] };
  return { kernel: shared.kernel, buffer, at, place };
}
