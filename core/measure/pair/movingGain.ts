import { dbFromPower } from '../../signal/decibels.ts';
import { percentile } from '../stream/noiseFloor.ts';

// Longer than a period of a low voice, shorter than the release of a limiter.
const FOLLOWED_SECONDS = 0.008;
// What sounds so far below the loudest says nothing of a gain: it is noise of the side's own.
const SOUNDING_DB = 30;

/** A moment that sounds. */
export interface Moment {
  /** Right over left, in dB. */
  gainDb: number;
  /** Of both, in dB. */
  levelDb: number;
}

export interface EvenedOut {
  right: Float64Array;
  /** One for every step of `FOLLOWED_SECONDS` that sounds. */
  moments: Moment[];
}

/**
 * The right side as loud as the left at every moment, so that what a limiter or an automatic gain did to one of them is undone. Two sounds that are not
 * one stay two: only their loudness is made the same.
 * @param shift how many samples the right side is later
 */
export function evenedOut(left: Float64Array, right: Float64Array, shift: number, sampleRate: number): EvenedOut {
  const half = Math.max(1, Math.round((FOLLOWED_SECONDS * sampleRate) / 2));
  const [leftPower, rightPower] = [left, right].map((side) => smoothed(smoothed(squares(side), half), half));
  const out = new Float64Array(right.length);
  for (let i = 0; i < right.length; i++) {
    const power = leftPower[i - shift] ?? 0;
    out[i] = power > 0 && rightPower[i] > 0 ? right[i] * Math.sqrt(power / rightPower[i]) : right[i];
  }
  const least = percentile(leftPower, 0.99) * 10 ** (-SOUNDING_DB / 10);
  const moments: Moment[] = [];
  for (let i = Math.max(0, -shift); i < left.length && i + shift < right.length; i += 2 * half) {
    const [one, other] = [leftPower[i], rightPower[i + shift]];
    if (one > least && other > 0)
      moments.push({ gainDb: dbFromPower(other / one), levelDb: dbFromPower(one * other) / 2 });
  }
  return { right: out, moments };
}

/** How far a gain moves, from the softest twentieth to the loudest, and the side that it was on: there what is loud is raised less than what is soft. */
export function movesOf(moments: readonly Moment[]): { gainMovesDb: number; limited: 'left' | 'right' } {
  const gains = Float64Array.from(moments, ({ gainDb }) => gainDb);
  const mean = (of: (moment: Moment) => number): number =>
    moments.reduce((sum, moment) => sum + of(moment), 0) / Math.max(1, moments.length);
  const [gain, level] = [mean(({ gainDb }) => gainDb), mean(({ levelDb }) => levelDb)];
  const together = mean(({ gainDb, levelDb }) => (gainDb - gain) * (levelDb - level));
  return { gainMovesDb: percentile(gains, 0.95) - percentile(gains, 0.05), limited: together < 0 ? 'right' : 'left' };
}

function squares(sound: Float64Array): Float64Array {
  return sound.map((x) => x * x);
}

/** The mean over `half` samples to either side. */
function smoothed(values: Float64Array, half: number): Float64Array {
  const out = new Float64Array(values.length);
  let [sum, first, beyond] = [0, 0, 0];
  for (let i = 0; i < values.length; i++) {
    while (beyond < Math.min(values.length, i + half + 1)) sum += values[beyond++];
    while (first < i - half) sum -= values[first++];
    out[i] = Math.max(0, sum) / (beyond - first);
  }
  return out;
}
