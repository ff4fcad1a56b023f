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
  const partial = (): Partial => {
    const hz = chance.betweenRatios(150, 7000);
    return {
      step: (2 * Math.PI * hz * clock) / sampleRate,
      start: chance.between(0, 2 * Math.PI) - 2 * Math.PI * hz * delaySeconds,
      level: 0.02 * (300 / hz) ** 0.3,
    };
  };
  for (let p = 0; p < PARTIALS; p += 2) addTwo(out, partial(), partial());
  return out.map((x, i) => x * swell((i * clock) / sampleRate - delaySeconds));
}

/** Angles in radians: from sample to sample, and at the first one. */
interface Partial {
  step: number;
  start: number;
  level: number;
}

/** Turned on from sample to sample; two at a time, as each waits for the sample before. */
function addTwo(out: Mono, one: Partial, other: Partial): void {
  const oneTurnRe = Math.cos(one.step);
  const oneTurnIm = Math.sin(one.step);
  const otherTurnRe = Math.cos(other.step);
  const otherTurnIm = Math.sin(other.step);
  let oneRe = Math.cos(one.start);
  let oneIm = Math.sin(one.start);
  let otherRe = Math.cos(other.start);
  let otherIm = Math.sin(other.start);
  for (let i = 0; i < out.length; i++) {
    out[i] += one.level * oneIm + other.level * otherIm;
    const oneTurned = oneRe * oneTurnRe - oneIm * oneTurnIm;
    oneIm = oneRe * oneTurnIm + oneIm * oneTurnRe;
    oneRe = oneTurned;
    const otherTurned = otherRe * otherTurnRe - otherIm * otherTurnIm;
    otherIm = otherRe * otherTurnIm + otherIm * otherTurnRe;
    otherRe = otherTurned;
  }
}

/** Four syllables a second, and a second of nothing in each five. */
function swell(seconds: number): number {
  const phrase = ((seconds % 5) + 5) % 5;
  const open = Math.min(1, Math.max(0, Math.min(phrase, 4 - phrase) / 0.05));
  return open * (0.25 + Math.sin(Math.PI * 4 * seconds) ** 2);
}
