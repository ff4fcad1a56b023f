import { seededRandom } from './random.ts';

/**
 * Triangular dither of two steps' width: the sum of two uniform values, which makes the
 * mean and the power of the rounding error independent of the signal
 * (Lipshitz, Wannamaker and Vanderkooy, "Quantization and dither", JAES 40, 1992).
 * Seeded, so that the same repair gives the same file.
 * @returns values in (-1, 1), in units of one quantising step
 */
export function triangularDither(seed = 1): () => number {
  const random = seededRandom(seed);
  return () => random() - random();
}
