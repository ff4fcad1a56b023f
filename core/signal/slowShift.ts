import { HALF_TAPS, TapTable } from './interpolationTaps.ts';

// Steps of a thousandth of a sample leave under -60 dB of a voice; so long one tap set serves.
const TAPS = new TapTable(1024);
const SERVES = 32;

/**
 * A sound read a little later and later, as a clock that runs apart needs it: sample i of the answer is the sound at i + `aheadAt(i)`.
 * @param aheadAt in samples, within -1..1, changing by under a thousandth a sample
 * @returns as long as the sound; the last and first 32 samples have nothing beyond them
 */
export function slowlyShifted(sound: Float64Array, aheadAt: (i: number) => number): Float64Array {
  const out = new Float64Array(sound.length);
  for (let from = 0; from < sound.length; from += SERVES) {
    const to = Math.min(sound.length, from + SERVES);
    const ahead = Math.round(aheadAt((from + to) / 2) * TAPS.steps) / TAPS.steps;
    const whole = Math.floor(ahead);
    const taps = ahead === whole ? null : TAPS.at((ahead - whole) * TAPS.steps);
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
