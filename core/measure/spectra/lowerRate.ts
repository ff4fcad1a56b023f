import { RateHalver } from '../../kernels/rateHalver.ts';
import type { SoundRoom } from '../soundRoom.ts';

const HALF_TAPS = 31;

/** Samples at either end of lowered sound that the end itself colours, an even number. */
export const LOWERING_MARGIN = HALF_TAPS + 1;

// As a share of the old rate: so far below a quarter of it that by there 50 dB are taken off. What folds over differs between a sound and the same
// sound an odd number of samples later, and no filter would bring the two to agree.
const EDGE = 0.224;

// A windowed sinc (Hamming's window), the middle one first; the last is none.
const WEIGHTS = Float64Array.from({ length: HALF_TAPS + 2 }, (_, n) =>
  n === 0
    ? 2 * EDGE
    : (Math.sin(2 * Math.PI * EDGE * n) / (Math.PI * n)) * (0.54 + 0.46 * Math.cos((Math.PI * n) / (HALF_TAPS + 1))),
);
WEIGHTS[HALF_TAPS + 1] = 0;

let halver: RateHalver | null = null;

/**
 * Halves the sample rate a number of times; what lies above half the new rate is filtered out. Sample i is at the old 2 i.
 * @param room where what is made goes; in arrays of its own without it
 */
export function lowerRate(samples: Float64Array, halvings: number, room?: SoundRoom): Float64Array {
  halver ??= new RateHalver(WEIGHTS);
  let sound = samples;
  for (let h = 0; h < halvings; h++) sound = halver.halved(sound, room?.take(sound.length >> 1));
  return sound;
}

// Maximally flat, seven taps; the last is none.
const ROUGH_WEIGHTS = Float64Array.of(16, 9, 0, -1, 0).map((weight) => weight / 32);

let roughHalver: RateHalver | null = null;

/**
 * Halves the rate a number of times with a short filter. What folds over is weak and the same on both sides, and
 * falls mostly where the last, steep halving takes it off.
 */
export function lowerRateRoughly(samples: Float64Array, halvings: number): Float64Array {
  roughHalver ??= new RateHalver(ROUGH_WEIGHTS);
  let sound = samples;
  for (let h = 0; h < halvings; h++) sound = roughHalver.halved(sound);
  return sound;
}
