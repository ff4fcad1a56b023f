import type { BiquadCoefficients } from '../signal/biquad.ts';
import { HALF_TAPS, TapTable } from '../signal/interpolationTaps.ts';
import { RATE, type Mono } from './mono.ts';

/** Later by any number of samples, by a windowed sinc of 64 taps. */
export function delayed(sound: Mono, samples: number): Mono {
  const half = 32;
  const whole = Math.floor(samples);
  const taps = Float64Array.from({ length: 2 * half }, (_, k) => {
    const x = k - half + 1 - (samples - whole);
    return (x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x)) * (0.5 + 0.5 * Math.cos((Math.PI * x) / (half + 1)));
  });
  const out = new Float64Array(sound.length);
  for (let i = 0; i < sound.length; i++) {
    // Tap k weighs the sample `last` - k; there is nothing before the sound and after it.
    const last = i - whole + half - 1;
    const end = Math.min(taps.length, last + 1);
    let sum = 0;
    for (let k = Math.max(0, last - sound.length + 1); k < end; k++) sum += taps[k] * sound[last - k];
    out[i] = sum;
  }
  return out;
}

/** Later by what changes with time, in samples: a clock that wanders, or a chorus. */
export function swaying(sound: Mono, delayAt: (i: number) => number): Mono {
  const out = new Float64Array(sound.length);
  for (let i = 0; i < out.length; i++) {
    const at = i - delayAt(i);
    const whole = Math.floor(at);
    const taps = SWAY_TAPS.at(Math.round((at - whole) * SWAY_TAPS.steps));
    const first = whole - HALF_TAPS + 1;
    const end = Math.min(taps.length, sound.length - first);
    let sum = 0;
    for (let k = Math.max(0, -first); k < end; k++) sum += taps[k] * sound[first + k];
    out[i] = sum;
  }
  return out;
}

const SWAY_TAPS = new TapTable(1000);

/** With less treble, as voices have; a fraction of a sample's delay is then exact. */
export function lowPassed(sound: Mono): Mono {
  let first = 0;
  let second = 0;
  return sound.map((x) => {
    first += 0.35 * (x - first);
    second += 0.35 * (first - second);
    return 2 * second;
  });
}

export function filtered(sound: Mono, { b0, b1, b2, a1, a2 }: BiquadCoefficients): Mono {
  let s1 = 0;
  let s2 = 0;
  return sound.map((x) => {
    const y = b0 * x + s1;
    s1 = b1 * x - a1 * y + s2;
    s2 = b2 * x - a2 * y;
    return y;
  });
}

/** High shelf (R. Bristow-Johnson's cookbook, slope 1). */
export function shelf(gainDb: number, frequencyHz: number): BiquadCoefficients {
  const a = 10 ** (gainDb / 40);
  const w = (2 * Math.PI * frequencyHz) / RATE;
  const cos = Math.cos(w);
  const root = Math.sqrt(a) * Math.sin(w) * Math.SQRT2;
  const a0 = a + 1 - (a - 1) * cos + root;
  return {
    b0: (a * (a + 1 + (a - 1) * cos + root)) / a0,
    b1: (-2 * a * (a - 1 + (a + 1) * cos)) / a0,
    b2: (a * (a + 1 + (a - 1) * cos - root)) / a0,
    a1: (2 * (a - 1 - (a + 1) * cos)) / a0,
    a2: (a + 1 - (a - 1) * cos - root) / a0,
  };
}

/** Second-order all-pass around a frequency. */
export function allPass(frequencyHz: number, q: number): BiquadCoefficients {
  const w = (2 * Math.PI * frequencyHz) / RATE;
  const alpha = Math.sin(w) / (2 * q);
  const a0 = 1 + alpha;
  return {
    b0: (1 - alpha) / a0,
    b1: (-2 * Math.cos(w)) / a0,
    b2: 1,
    a1: (-2 * Math.cos(w)) / a0,
    a2: (1 - alpha) / a0,
  };
}
