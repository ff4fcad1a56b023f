import { ranked, valuesAbove } from '../../kernels/blockSeries.ts';
import { NOTHING_POWER } from '../boundaries.ts';

const FLOOR_PERCENTILE = 0.1;

/** The value below which a share of the numbers lies (nearest rank). Empty input gives 0. */
export function percentile(values: ArrayLike<number>, share: number): number {
  const { length } = values;
  return length === 0 ? 0 : ranked(values, Math.min(length - 1, Math.floor(share * length)));
}

/**
 * The power of what goes on in the pauses: a low percentile of the block powers, over blocks that
 * are not digital silence. 0 where every block is.
 */
export function noiseFloorPower(blockPower: Float64Array): number {
  return percentile(valuesAbove(blockPower, NOTHING_POWER), FLOOR_PERCENTILE);
}
