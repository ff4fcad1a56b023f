import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { hiss, type Mono } from '@pocket-twin/demo/sound/mono.ts';
import { passFilter, type BiquadCoefficients } from '@pocket-twin/core/signal/biquad.ts';
import { decodeMono } from './codec.ts';
import type { Chance } from './chance.ts';

export const RATE = 48000;
const VOICES = join(import.meta.dirname, '../../demo/voices');
const voices = readdirSync(VOICES)
  .filter((name) => name.endsWith('.flac'))
  .sort()
  .map((name) => decodeMono(join(VOICES, name), RATE));

/** A stretch of dry speech, at a random pitch and pace, brightness and level of effort; RMS about -20 dBFS while speaking. */
export function speech(chance: Chance, frames: number, who = chance.integer(0, voices.length - 1)): Mono {
  const voice = voices[who % voices.length];
  const pace = chance.between(0.82, 1.22);
  const start = chance.between(0, voice.length * 0.6);
  const sound = Float64Array.from({ length: frames }, (_, i) => {
    const at = (start + i * pace) % (voice.length - 2);
    const whole = Math.floor(at);
    return voice[whole] + (voice[whole + 1] - voice[whole]) * (at - whole);
  });
  const tilted = filtered(sound, shelf(chance.between(-6, 6), chance.betweenRatios(800, 5000)));
  return spoken(tilted, -20);
}

/** Turns of talking for two people: each sound is silent while the other speaks, with now and then both. */
export function turns(chance: Chance, frames: number): [Mono, Mono] {
  const first = chance.integer(0, voices.length - 1);
  const talkers: [Mono, Mono] = [speech(chance, frames, first), speech(chance, frames, first + 1)];
  let at = 0;
  let turn = chance.integer(0, 1);
  const open = [new Float64Array(frames), new Float64Array(frames)];
  while (at < frames) {
    const length = Math.round(chance.between(1, 4) * RATE);
    open[turn].fill(1, at, Math.min(frames, at + length));
    if (chance.often(0.25)) open[1 - turn].fill(1, at + Math.round(length * 0.6), Math.min(frames, at + length));
    at += length;
    turn = 1 - turn;
  }
  return [0, 1].map((t) => talkers[t].map((x, i) => x * open[t][i])) as [Mono, Mono];
}

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
      for (let i = 0; i < length; i++) {
        const t = i / RATE;
        const envelope = held
          ? Math.min(1, t * 20, ((length - i) / RATE) * 20)
          : Math.exp(-t * (2 + h)) * Math.min(1, t * 500);
        out[start + i] += amplitude * envelope * Math.sin(phase + step * i);
      }
    }
  }
  return spoken(out, -20);
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
