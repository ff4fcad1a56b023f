import type { Mono } from './mono.ts';

const HALF_TAPS = 48;

/** 24 kHz to 48 kHz by a windowed half-band sinc: the same samples on every machine. */
export function doubleRate(sound: Mono): Mono {
  const taps = Float64Array.from({ length: HALF_TAPS * 2 }, (_, k) => {
    const x = k - HALF_TAPS + 0.5;
    const window = Math.cos((Math.PI * x) / (2 * HALF_TAPS)) ** 2;
    return (Math.sin(Math.PI * x) / (Math.PI * x)) * window;
  });
  const padded = new Float64Array(sound.length + 2 * HALF_TAPS);
  padded.set(sound, HALF_TAPS - 1);
  const out = new Float64Array(sound.length * 2);
  for (let i = 0; i < sound.length; i++) {
    out[2 * i] = sound[i];
    let sum = 0;
    for (let k = 0; k < taps.length; k++) sum += taps[k] * padded[i + k];
    out[2 * i + 1] = sum;
  }
  return out;
}
