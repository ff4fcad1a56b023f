import { sumsOfProducts, type SumsOfProducts } from '../../kernels/stretchSums.ts';

// One signal recorded twice, at full scale and softer for safety: where the louder one is cut off the softer one knows what was there.

/** From so near to a channel's peak on a sample may have been cut off, where any of the channel were. */
const CUT_OFF_SHARE = 0.98;
// Of the power between the cuts: what two microphones or a mix leave is far more.
const MOST_LEFT_OVER = 0.03;

/** The magnitude from which on samples of each side may have been cut off; Infinity where none were. */
export type Ceilings = [number, number];

export function ceilingOf({ clippedSamples, peak }: { clippedSamples: number; peak: number }): number {
  return clippedSamples > 0 ? CUT_OFF_SHARE * peak : Infinity;
}

export interface Sides {
  left: Float64Array;
  right: Float64Array;
}

/** Of what neither side has cut off, the right one so many samples later. */
export function sumsBetweenCuts({ left, right }: Sides, shift: number, ceilings: Ceilings): SumsOfProducts {
  const start = Math.max(0, -shift);
  const end = Math.max(start, Math.min(left.length, right.length - shift));
  return sumsOfProducts(left.subarray(start, end), right.subarray(start + shift, end + shift), ceilings);
}

/** What the right side is of the left one, told from what neither has cut off. null where the two are not one signal there. */
export function factorBetweenCuts(some: readonly SumsOfProducts[]): number | null {
  const total = (of: (sums: SumsOfProducts) => number): number => some.reduce((sum, sums) => sum + of(sums), 0);
  const squares = total(({ left }) => left);
  const products = total(({ both }) => both);
  const power = total(({ right }) => right);
  if (squares === 0 || power === 0) return null;
  return 1 - products ** 2 / (squares * power) <= MOST_LEFT_OVER ? products / squares : null;
}

/** What was cut off on one side, given back from the other. Changes the sounds. */
export function giveBackPeaks({ left, right }: Sides, shift: number, ceilings: Ceilings, factor: number): void {
  for (let i = Math.max(0, -shift); i < left.length && i + shift < right.length; i++) {
    const l = left[i];
    const r = right[i + shift];
    const leftIsCut = Math.abs(l) >= ceilings[0];
    const rightIsCut = Math.abs(r) >= ceilings[1];
    if (leftIsCut && !rightIsCut) left[i] = r / factor;
    else if (rightIsCut && !leftIsCut) right[i + shift] = l * factor;
  }
}
