import { amplitudeFromDb } from '../signal/decibels.ts';

/** Made-up sound is at this rate where nothing else is said. */
export const RATE = 48000;

/** One channel of sound, full scale at 1. */
export type Mono = Float64Array;

export function silence(frames: number): Mono {
  return new Float64Array(frames);
}

/** Times a factor. */
export function scale(sound: Mono, factor: number): Mono {
  const out = new Float64Array(sound.length);
  const { length } = out;
  for (let i = 0; i < length; i++) out[i] = factor * sound[i];
  return out;
}

export function gain(sound: Mono, db: number): Mono {
  return scale(sound, amplitudeFromDb(db));
}

export function mix(...sounds: Mono[]): Mono {
  const out = new Float64Array(Math.max(...sounds.map((sound) => sound.length)));
  for (const sound of sounds) {
    const { length } = sound;
    for (let i = 0; i < length; i++) out[i] += sound[i];
  }
  return out;
}

/** Cut or padded with silence to a length. */
export function fit(sound: Mono, frames: number): Mono {
  const out = new Float64Array(frames);
  out.set(sound.subarray(0, frames));
  return out;
}

/** Later by whole samples; the length stays. */
export function later(sound: Mono, samples: number): Mono {
  const out = new Float64Array(sound.length);
  if (samples < sound.length) out.set(sound.subarray(0, sound.length - samples), samples);
  return out;
}

/** One sound after another. */
export function inTurn(...sounds: Mono[]): Mono {
  const out = new Float64Array(sounds.reduce((sum, sound) => sum + sound.length, 0));
  let at = 0;
  for (const sound of sounds) {
    out.set(sound, at);
    at += sound.length;
  }
  return out;
}

/** RMS over the parts that are not silence, brought to a level. */
export function atLevel(sound: Mono, rmsDbfs: number): Mono {
  let energy = 0;
  let loud = 0;
  for (const x of sound) {
    if (Math.abs(x) <= 0.003) continue;
    energy += x * x;
    loud++;
  }
  const rms = Math.sqrt(energy / Math.max(1, loud));
  return gain(sound, rmsDbfs - 20 * Math.log10(rms));
}

/** Brings the louder half of a sound to an RMS level. */
export function spoken(sound: Mono, rmsDbfs: number): Mono {
  const block = 2400;
  const powers: number[] = [];
  for (let start = 0; start + block <= sound.length; start += block) {
    let sum = 0;
    for (let i = start; i < start + block; i++) sum += sound[i] * sound[i];
    powers.push(sum / block);
  }
  powers.sort((a, b) => b - a);
  const loud = powers.slice(0, Math.max(1, powers.length >> 1));
  const rms = Math.sqrt(loud.reduce((sum, power) => sum + power, 0) / loud.length) || 1;
  return sound.map((x) => (x * 10 ** (rmsDbfs / 20)) / rms);
}
