import { HALF_TAPS, interpolationTaps } from './interpolationTaps.ts';

// Steps of a thousandth of a sample leave under -60 dB of a voice; so long one tap set serves.
const STEPS = 1024;
const SERVES = 32;
const tapsOf = new Map<number, Float64Array>();

/**
 * A sound read a little later and later, as a clock that runs apart needs it: sample i of the answer is the sound at i + `aheadAt(i)`.
 * @param aheadAt in samples, within -1..1, changing by under a thousandth a sample
 * @returns as long as the sound; the last and first 32 samples have nothing beyond them
 */
export function slowlyShifted(sound: Float64Array, aheadAt: (i: number) => number): Float64Array {
  const out = new Float64Array(sound.length);
  for (let from = 0; from < sound.length; from += SERVES) {
    const to = Math.min(sound.length, from + SERVES);
    const ahead = Math.round(aheadAt((from + to) / 2) * STEPS) / STEPS;
    const whole = Math.floor(ahead);
    const taps = ahead === whole ? null : fractionTaps(ahead - whole);
    for (let i = from; i < to; i++) {
      if (!taps) {
        out[i] = sound[i + whole] ?? 0;
        continue;
      }
      const first = i + whole - HALF_TAPS + 1;
      let sum = 0;
      // Beyond either end there is nothing.
      const end = Math.min(taps.length, sound.length - first);
      for (let k = Math.max(0, -first); k < end; k++) sum += taps[k] * sound[first + k];
      out[i] = sum;
    }
  }
  return out;
}

/** Weights of the samples from 31 before a place to 32 after it, for the sound `fraction` after that place. */
function fractionTaps(fraction: number): Float64Array {
  const step = Math.round(fraction * STEPS);
  const known = tapsOf.get(step);
  if (known) return known;
  const taps = interpolationTaps(fraction);
  tapsOf.set(step, taps);
  return taps;
}
