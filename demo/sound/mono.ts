import { amplitudeFromDb } from '@pocket-twin/core/signal/decibels.ts';
import { gaussian, seededRandom } from '@pocket-twin/core/signal/random.ts';

/** One channel of sound, full scale at 1. */
export type Mono = Float64Array;

export function silence(frames: number): Mono {
  return new Float64Array(frames);
}

/** White noise at an RMS level: what an open preamplifier writes. */
export function hiss(frames: number, rmsDbfs: number, seed: number): Mono {
  const next = gaussian(seededRandom(seed));
  const level = amplitudeFromDb(rmsDbfs);
  return Float64Array.from({ length: frames }, () => next() * level);
}

export function gain(sound: Mono, db: number): Mono {
  const factor = amplitudeFromDb(db);
  return sound.map((x) => x * factor);
}

export function mix(...sounds: Mono[]): Mono {
  const out = new Float64Array(Math.max(...sounds.map((sound) => sound.length)));
  for (const sound of sounds) for (let i = 0; i < sound.length; i++) out[i] += sound[i];
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
  let [energy, loud] = [0, 0];
  for (const x of sound) {
    if (Math.abs(x) <= 0.003) continue;
    energy += x * x;
    loud++;
  }
  const rms = Math.sqrt(energy / Math.max(1, loud));
  return gain(sound, rmsDbfs - 20 * Math.log10(rms));
}
