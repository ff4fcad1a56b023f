import { Chance } from './chance.ts';
import type { Mono } from './mono.ts';

// A voice that is known at any time and not only at samples: read by two clocks, it is exactly what two devices would have recorded.

const PARTIALS = 150;

/**
 * Noise in syllables with pauses between phrases, made of steady partials. @param clock how fast its time goes: 1 + ppm / 1e6
 * @param delaySeconds how much later it comes @param seed which voice
 */
export function voiceByClock(seconds: number, sampleRate: number, clock: number, delaySeconds: number, seed = 1): Mono {
  const chance = new Chance(seed);
  const frames = Math.round(seconds * sampleRate);
  const out = new Float64Array(frames);
  for (let p = 0; p < PARTIALS; p++) {
    const hz = chance.betweenRatios(150, 7000);
    const step = (2 * Math.PI * hz * clock) / sampleRate;
    const start = chance.between(0, 2 * Math.PI) - 2 * Math.PI * hz * delaySeconds;
    const level = 0.02 * (300 / hz) ** 0.3;
    const turnRe = Math.cos(step);
    const turnIm = Math.sin(step);
    let re = Math.cos(start);
    let im = Math.sin(start);
    for (let i = 0; i < frames; i++) {
      out[i] += level * im;
      [re, im] = [re * turnRe - im * turnIm, re * turnIm + im * turnRe];
    }
  }
  return out.map((x, i) => x * swell((i * clock) / sampleRate - delaySeconds));
}

/** Four syllables a second, and a second of nothing in each five. */
function swell(seconds: number): number {
  const phrase = ((seconds % 5) + 5) % 5;
  const open = Math.min(1, Math.max(0, Math.min(phrase, 4 - phrase) / 0.05));
  return open * (0.25 + Math.sin(Math.PI * 4 * seconds) ** 2);
}
