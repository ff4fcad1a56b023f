import { passFilter } from '../signal/biquad.ts';
import type { Chance } from './chance.ts';
import { filtered } from './filters.ts';
import { RATE, spoken, type Mono } from './mono.ts';
import { hiss } from './noise.ts';

/** One instrument: plucked or held notes of a scale, with harmonics of its own. */
export function instrument(chance: Chance, frames: number): Mono {
  const out = new Float64Array(frames);
  const held = chance.often(0.4);
  const base = chance.betweenRatios(80, 400);
  const brightness = chance.between(0.5, 0.85);
  const beat = chance.between(0.18, 0.6);
  const scale = [0, 2, 4, 5, 7, 9, 11, 12];
  for (let start = 0; start < frames; start += Math.round(beat * RATE * chance.pick([1, 1, 2]))) {
    if (chance.often(0.15)) continue;
    const frequency = base * 2 ** (chance.pick(scale) / 12);
    const length = Math.min(frames - start, Math.round(RATE * (held ? beat * 2 : chance.between(0.4, 1.5))));
    for (let h = 1; h <= 12 && h * frequency < 15000; h++) {
      const amplitude = brightness ** h * chance.between(0.6, 1);
      const phase = chance.between(0, 6.28);
      const step = (2 * Math.PI * h * frequency * (1 + 0.0004 * h * h)) / RATE;
      const decay = held ? 1 : Math.exp(-(2 + h) / RATE);
      addPartial(out.subarray(start, start + length), { amplitude, phase, step, decay, held });
    }
  }
  return spoken(out, -20);
}

interface Partial {
  amplitude: number;
  phase: number;
  /** Radians a sample. */
  step: number;
  /** What is left of it from sample to sample. */
  decay: number;
  held: boolean;
}

/** A sine turned on from sample to sample, as a sine of each would take most of the time in which tests make sound. */
function addPartial(out: Mono, { amplitude, phase, step, decay, held }: Partial): void {
  const turnRe = decay * Math.cos(step);
  const turnIm = decay * Math.sin(step);
  let re = amplitude * Math.cos(phase);
  let im = amplitude * Math.sin(phase);
  const rise = (held ? 20 : 500) / RATE;
  const fall = held ? 20 / RATE : Infinity;
  for (let i = 0; i < out.length; i++) {
    out[i] += Math.min(1, i * rise, (out.length - i) * fall) * im;
    const next = re * turnRe - im * turnIm;
    im = re * turnIm + im * turnRe;
    re = next;
  }
}

/** Hits with a noisy tail. */
export function drums(chance: Chance, frames: number): Mono {
  const out = new Float64Array(frames);
  const beat = Math.round(chance.between(0.2, 0.5) * RATE);
  for (let start = 0; start < frames; start += beat) {
    const decay = chance.between(8, 40);
    const tone = chance.betweenRatios(50, 300);
    for (let i = 0; i < Math.min(RATE / 2, frames - start); i++) {
      const t = i / RATE;
      out[start + i] += Math.exp(-t * decay) * (0.5 * chance.normal() + Math.sin(2 * Math.PI * tone * t));
    }
  }
  return spoken(out, -20);
}

/** Wind, water, traffic: noise with a slope and slow swells. */
export function ambience(chance: Chance, frames: number): Mono {
  const noise = filtered(
    hiss(frames, 0, chance.seed()),
    passFilter('low-pass', chance.betweenRatios(300, 5000), 0.7, RATE),
  );
  const swell = chance.between(0.05, 0.5);
  const phase = chance.between(0, 6.28);
  return spoken(
    noise.map((x, i) => x * (1 + 0.6 * Math.sin(phase + (2 * Math.PI * swell * i) / RATE))),
    -26,
  );
}
