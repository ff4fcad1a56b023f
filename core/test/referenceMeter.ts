import type { BiquadCoefficients } from '../signal/biquad.ts';
import { TRUE_PEAK_PHASES } from '../signal/truePeakFilter.ts';

// The plain versions that the kernels must equal: whole signals, no state, no short cuts.

export function filteredEnergies(samples: Float64Array, sections: BiquadCoefficients[], block: number): number[] {
  let sound = samples;
  for (const { b0, b1, b2, a1, a2 } of sections) {
    const source = sound;
    const out = new Float64Array(source.length);
    for (let i = 0; i < source.length; i++) {
      out[i] =
        b0 * source[i] +
        b1 * (source[i - 1] ?? 0) +
        b2 * (source[i - 2] ?? 0) -
        a1 * (out[i - 1] ?? 0) -
        a2 * (out[i - 2] ?? 0);
    }
    sound = out;
  }
  return blocksOf(sound, block).map((part) => part.reduce((sum, x) => sum + x * x, 0) / part.length);
}

export function blocksOf(samples: Float64Array, block: number): Float64Array[] {
  return Array.from({ length: Math.ceil(samples.length / block) }, (_, b) => samples.slice(b * block, (b + 1) * block));
}

/** Every phase of the standard's filter at every sample, the silence around the signal included. */
export function plainTruePeak(samples: Float64Array): number {
  let largest = 0;
  for (let i = 0; i < samples.length + 11; i++) {
    largest = Math.max(largest, Math.abs(samples[i] ?? 0));
    for (const taps of TRUE_PEAK_PHASES) {
      largest = Math.max(largest, Math.abs(taps.reduce((sum, tap, k) => sum + tap * (samples[i - k] ?? 0), 0)));
    }
  }
  return largest;
}

export function plainClipped(samples: Float64Array, ceiling: number): number {
  let [clipped, run] = [0, 0];
  for (const x of [...samples, 0]) {
    if (Math.abs(x) >= ceiling) run++;
    else {
      if (run >= 3) clipped += run;
      run = 0;
    }
  }
  return clipped;
}
