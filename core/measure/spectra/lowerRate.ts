import { RateHalver } from '../../kernels/rateHalver.ts';

const HALF_TAPS = 31;

/** Samples at either end of lowered sound that the end itself colours, an even number. */
export const LOWERING_MARGIN = HALF_TAPS + 1;

// A windowed sinc with its edge at a quarter of the rate (Hamming's window).
const WEIGHTS = Float64Array.from({ length: (HALF_TAPS + 1) / 2 }, (_, i) => {
  const n = 2 * i + 1;
  return (Math.sin((Math.PI * n) / 2) / (Math.PI * n)) * (0.54 + 0.46 * Math.cos((Math.PI * n) / (HALF_TAPS + 1)));
});

let halver: RateHalver | null = null;

/** Halves the sample rate a number of times; what lies above half the new rate is filtered out. Sample i is at the old 2 i. */
export function lowerRate(samples: Float64Array, halvings: number): Float64Array {
  halver ??= new RateHalver(WEIGHTS);
  let sound = samples;
  for (let h = 0; h < halvings; h++) sound = halver.halved(sound);
  return sound;
}

/**
 * Halves the rate a number of times with a short filter (maximally flat, seven taps). What folds over is weak and the same on both sides, and
 * falls mostly where the last, steep halving takes it off.
 */
export function lowerRateRoughly(samples: Float64Array, halvings: number): Float64Array {
  let sound = samples;
  for (let h = 0; h < halvings; h++) {
    const low = new Float64Array(sound.length >> 1);
    for (let i = 2; i < low.length - 2; i++) {
      const at = 2 * i;
      low[i] = (16 * sound[at] + 9 * (sound[at - 1] + sound[at + 1]) - (sound[at - 3] + sound[at + 3])) / 32;
    }
    sound = low;
  }
  return sound;
}
