import { blockStatesWasm } from './blockStates.wasm.ts';
import { SeriesKernel } from './seriesKernel.ts';

interface BlockStatesExports {
  blockStates(
    ...[left, right, products, leftBefore, leftAfter, rightBefore, rightAfter, alone, count, thresholds, out]: number[]
  ): void;
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

const states = new SeriesKernel<BlockStatesExports>(blockStatesWasm);

/**
 * What each block allows the pair to be: bits for the left or the right side alone (1, 2), the same on both (4), at another level (8), inverted (16), and
 * different (32); 0 where nothing sounds. @param alone of each block a bit that is sure, or 0
 */
export function blockStates(
  { left, right, product }: PairSeries,
  noises: [BlockNoise, BlockNoise],
  alone: Uint8Array,
  thresholds: StateThresholds,
): Uint8Array {
  const { length } = alone;
  const { kernel, buffer, at } = states.laid(
    [left, right, product, ...noises.flatMap(({ before, after }) => [before, after]), alone, toldOf(thresholds)],
    length,
  );
  kernel.blockStates(...at.slice(0, 8), length, ...at.slice(8));
  return new Uint8Array(buffer, at[9], length).slice();
}

/** Whether both sides are the same to the last bits, but for level and polarity, in all of these blocks. */
export function areExactBlocks({ left, right, product }: PairSeries, thresholds: StateThresholds): boolean {
  const { kernel, at } = states.laid([left, right, product, toldOf(thresholds)]);
  return kernel.areExactBlocks(at[0], at[1], at[2], left.length, at[3]) !== 0;
}

/** In the order in which the kernel has them. */
function toldOf(thresholds: StateThresholds): Float64Array {
  const { nothingPower, exact, standsOut, noiseShare, copyNull, copyReach, sameNull, sameReach, alone } = thresholds;
  return Float64Array.of(
    ...[nothingPower, exact, standsOut, noiseShare, copyNull, copyReach, sameNull, sameReach, alone],
  );
}
