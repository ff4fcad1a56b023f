import { gaussians } from '../kernels/gaussians.ts';
import { amplitudeFromDb } from '../signal/decibels.ts';
import { RATE, type Mono } from './mono.ts';

/** White noise at an RMS level: what an open preamplifier writes. */
export function hiss(frames: number, rmsDbfs: number, seed: number): Mono {
  return gaussians(frames, amplitudeFromDb(rmsDbfs), seed);
}

/** White noise with an RMS of so much of full scale. */
export function noise(rms: number, seconds: number, seed: number, sampleRate = RATE): Mono {
  return gaussians(Math.round(seconds * sampleRate), rms, seed);
}

/** Noise that comes in words and phrases with pauses, as speech does. */
export function chatter(rms: number, seconds: number, seed: number, sampleRate = RATE): Mono {
  const sound = noise(rms, seconds, seed, sampleRate);
  const { length } = sound;
  for (let i = 0; i < length; i++) {
    const t = i / sampleRate;
    const talking = t % 3 < 2.2;
    sound[i] = talking ? sound[i] * (0.15 + Math.abs(Math.sin(2 * Math.PI * 2.3 * t))) : 0;
  }
  return sound;
}
