import { dbFromPower } from '../../signal/decibels.ts';

// A little more than a sentence's stress and pauses: nobody says two of them with the same ups and downs.
export const REACH_BLOCKS = 20;
const LEAST_SHARED_BLOCKS = REACH_BLOCKS;
/**
 * Of the levels of the blocks around. Two moments of one talker come to 0.77 at most in 999 of 1,000 cases (nine voices, one side). The same sound does where
 * blocks cut it alike; cut half a block elsewhere, the worst there is, it comes to 0.72 in the middle, and some of its turns are not known again.
 */
const LEAST_RESEMBLANCE = 0.8;

/** How far each side stands over its floor around one moment, in dB, block by block; NaN beyond either end. */
export type Surroundings = Float64Array[];

export function surroundingsOf(overFloor: readonly Float64Array[], block: number): Surroundings {
  return overFloor.map((ratios) =>
    Float64Array.from({ length: 2 * REACH_BLOCKS + 1 }, (_, i) => {
      const at = block - REACH_BLOCKS + i;
      return at >= 0 && at < ratios.length ? dbFromPower(Math.max(1, ratios[at])) : NaN;
    }),
  );
}

/** Whether two moments hold one sound, as in a clip that was looped: the correlation of what the levels of both sides do around them. */
export function isResembling(one: Surroundings, other: Surroundings): boolean {
  let products = 0;
  let ones = 0;
  let others = 0;
  for (const side of one.keys()) {
    const shared = Array.from(one[side].keys()).filter((i) => !Number.isNaN(one[side][i] + other[side][i]));
    if (shared.length < LEAST_SHARED_BLOCKS) return false;
    const meanOf = (levels: Float64Array): number => shared.reduce((sum, i) => sum + levels[i], 0) / shared.length;
    const oneMean = meanOf(one[side]);
    const otherMean = meanOf(other[side]);
    for (const i of shared) {
      const a = one[side][i] - oneMean;
      const b = other[side][i] - otherMean;
      products += a * b;
      ones += a * a;
      others += b * b;
    }
  }
  return products >= LEAST_RESEMBLANCE * Math.sqrt(ones * others) && products > 0;
}
