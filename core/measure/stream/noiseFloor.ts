import quickselect from 'quickselect';
import { NOTHING_POWER } from '../boundaries.ts';

const FLOOR_PERCENTILE = 0.1;

/** The value below which a share of the numbers lies (nearest rank). Empty input gives 0. */
export function percentile(values: ArrayLike<number>, share: number): number {
  if (values.length === 0) return 0;
  const ranked = new Float64Array(values);
  const rank = Math.min(ranked.length - 1, Math.floor(share * ranked.length));
  // It only swaps elements, which typed arrays can do too.
  quickselect(ranked as unknown as number[], rank);
  return ranked[rank];
}

/**
 * The power of what goes on in the pauses: a low percentile of the block powers, over blocks that
 * are not digital silence. 0 where every block is.
 */
export function noiseFloorPower(blockPower: Float64Array): number {
  const sounding = new Float64Array(blockPower.length);
  let count = 0;
  for (let i = 0; i < blockPower.length; i++) if (blockPower[i] > NOTHING_POWER) sounding[count++] = blockPower[i];
  return percentile(sounding.subarray(0, count), FLOOR_PERCENTILE);
}
