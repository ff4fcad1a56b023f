import { amplitudeFromDb } from '../signal/decibels.ts';
import { gaussian, seededRandom } from '../signal/random.ts';
import { RATE, type Mono } from './mono.ts';

/** White noise at an RMS level: what an open preamplifier writes. */
export function hiss(frames: number, rmsDbfs: number, seed: number): Mono {
  const next = gaussian(seededRandom(seed));
  const level = amplitudeFromDb(rmsDbfs);
  return new Float64Array(frames).map(() => next() * level);
}

/** White noise with an RMS of so much of full scale. */
export function noise(rms: number, seconds: number, seed: number, sampleRate = RATE): Mono {
  const next = gaussian(seededRandom(seed));
  return new Float64Array(Math.round(seconds * sampleRate)).map(() => rms * next());
}

/** Noise that comes in words and phrases with pauses, as speech does. */
export function chatter(rms: number, seconds: number, seed: number, sampleRate = RATE): Mono {
  const sound = noise(rms, seconds, seed, sampleRate);
  return sound.map((x, i) => {
    const t = i / sampleRate;
    const talking = t % 3 < 2.2;
    return talking ? x * (0.15 + Math.abs(Math.sin(2 * Math.PI * 2.3 * t))) : 0;
  });
}
