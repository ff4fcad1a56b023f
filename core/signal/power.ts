import { sumOfSquares } from '../kernels/stretchSums.ts';

/** Mean square. */
export function powerOf(samples: Float64Array): number {
  return sumOfSquares(samples) / samples.length;
}
