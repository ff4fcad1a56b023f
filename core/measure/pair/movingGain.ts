import { evened } from '../../kernels/stretchSums.ts';
import { dbFromPower } from '../../signal/decibels.ts';
import type { SoundRoom } from '../soundRoom.ts';
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

// Noise and rounding move a gain that stands by a few hundredths of a decibel; an automatic gain moves it by more within a third of a second.
const STANDS_WITHIN_DB = 0.15;
// Where next to nothing is left, neither noise nor a coder moves anything: people stand to a hundredth of a decibel, an automatic gain moves by seven and more.
const NOTHING_MOVES_DB = -45;
const STANDS_STILL_DB = 0.03;
const LEAST_WITHIN_STILL = 0.03;
// Between stretches the gain of a limiter or an automatic gain moves up to seven times as far as within them; of people who stand apart in a mix, over fifteen times.
const LEAST_WITHIN = 0.1;
// A thirtieth of a second: a coder moves the gain at random from moment to moment, but not for so long.
const CHANGES_OVER = 4;
// Of how the gain changes and how loud it is: of 120 limiters and automatic gains, coded at 64 kbit/s and more as well, all but one come to 0.26 and more, each with
// the sign of the side it is on; of 100 mixes of people who stand apart, where the gain seems to move, 0.1 at most.
const CLEARLY_FOLLOWS = 0.2;
// In a short clip as much may come by chance: deviations of what chance gives.
const BEYOND_CHANCE = 2.5;

/**
 * The right side as loud as the left at every moment, so that what a limiter or an automatic gain did to one of them is undone. Two sounds that are not
 * one stay two: only their loudness is made the same.
 * @param shift how many samples the right side is later
 * @param room where what it gives lies
 */
export function evenedOut(
  left: Float64Array,
  right: Float64Array,
  { shift, sampleRate, room }: { shift: number; sampleRate: number; room: SoundRoom },
): EvenedOut {
  const half = Math.max(1, Math.round((FOLLOWED_SECONDS * sampleRate) / 2));
  const out = room.take(right.length);
  const mark = room.mark();
  const { leftPower, rightPower } = evened(left, right, shift, half, {
    right: out,
    leftPower: room.take(left.length),
    rightPower: room.take(right.length),
  });
  const least = percentile(leftPower, 0.99) * 10 ** (-SOUNDING_DB / 10);
  const moments: Moment[] = [];
  for (let i = Math.max(0, -shift); i < left.length && i + shift < right.length; i += 2 * half) {
    const one = leftPower[i];
    const other = rightPower[i + shift];
    if (one > least && other > 0)
      moments.push({ gainDb: dbFromPower(other / one), levelDb: dbFromPower(one * other) / 2 });
  }
  room.backTo(mark);
  return { right: out, moments };
}

export interface MovingGain {
  /** From the softest twentieth to the loudest. */
  gainMovesDb: number;
  limited: 'left' | 'right' | null;
}

/**
 * What a gain does that moves on one side. A gain that stands within most stretches and differs between them is none: two people stand left and right of
 * the middle in a mix. @param stretches the moments of each
 * @param leastMovesDb what moves by less is held to stand @param nullDb what is left with the gain undone
 * @returns null where it stands
 */
export function movingGainOf(stretches: readonly Moment[][], leastMovesDb: number, nullDb: number): MovingGain | null {
  const moments = stretches.flat();
  const gains = Float64Array.from(moments, ({ gainDb }) => gainDb);
  const gainMovesDb = percentile(gains, 0.95) - percentile(gains, 0.05);
  const swings = stretches.filter((stretch) => stretch.length > 0).map(swingOf);
  const withinDb = percentile(
    swings.map(({ swingDb }) => swingDb),
    0.5,
  );
  const betweenDb = deviation(swings.map(({ gainDb }) => gainDb));
  const standsWithinDb =
    nullDb <= NOTHING_MOVES_DB
      ? Math.max(STANDS_STILL_DB, LEAST_WITHIN_STILL * betweenDb)
      : Math.max(STANDS_WITHIN_DB, LEAST_WITHIN * betweenDb);
  if (gainMovesDb < leastMovesDb || withinDb < standsWithinDb) return null;
  return { gainMovesDb, limited: limitedSide(stretches) };
}

/**
 * A gain that follows falls while it is loud and rises while it is soft, between one thirtieth of a second and the next; what it is at a moment says less, as a
 * slow one still recovers from what was loud before. null where it is not clear.
 */
function limitedSide(stretches: readonly Moment[][]): 'left' | 'right' | null {
  const changes = stretches.flatMap(changesOf);
  const follows = correlation(changes);
  // Each change shares its moments with those before and after it.
  const byChance = BEYOND_CHANCE / Math.sqrt(changes.length / (2 * CHANGES_OVER));
  if (Math.abs(follows) < Math.max(CLEARLY_FOLLOWS, byChance)) return null;
  return follows < 0 ? 'right' : 'left';
}

/** How the gain changes from each `CHANGES_OVER` moments to the next, and how loud it is meanwhile. */
function changesOf(stretch: readonly Moment[]): Moment[] {
  const meanFrom = (first: number): Moment => {
    const some = stretch.slice(first, first + CHANGES_OVER);
    return {
      gainDb: some.reduce((sum, { gainDb }) => sum + gainDb, 0) / CHANGES_OVER,
      levelDb: some.reduce((sum, { levelDb }) => sum + levelDb, 0) / CHANGES_OVER,
    };
  };
  const means = Array.from({ length: Math.max(0, stretch.length - CHANGES_OVER + 1) }, (_, first) => meanFrom(first));
  return means.slice(CHANGES_OVER).map(({ gainDb, levelDb }, i) => ({
    gainDb: gainDb - means[i].gainDb,
    levelDb: (levelDb + means[i].levelDb) / 2,
  }));
}

function correlation(moments: readonly Moment[]): number {
  const mean = (of: (moment: Moment) => number): number =>
    moments.reduce((sum, moment) => sum + of(moment), 0) / Math.max(1, moments.length);
  const gain = mean(({ gainDb }) => gainDb);
  const level = mean(({ levelDb }) => levelDb);
  const covariance = mean(({ gainDb, levelDb }) => (gainDb - gain) * (levelDb - level));
  const variances = mean(({ gainDb }) => (gainDb - gain) ** 2) * mean(({ levelDb }) => (levelDb - level) ** 2);
  return variances > 0 ? covariance / Math.sqrt(variances) : 0;
}

/** The mean gain of a stretch and how far it is from that, in dB, by power. */
function swingOf(moments: readonly Moment[]): { gainDb: number; swingDb: number } {
  let power = 1e-20;
  let sum = 0;
  let squares = 0;
  for (const { gainDb, levelDb } of moments) {
    const weight = 10 ** (levelDb / 10);
    power += weight;
    sum += weight * gainDb;
    squares += weight * gainDb * gainDb;
  }
  const mean = sum / power;
  return { gainDb: mean, swingDb: Math.sqrt(Math.max(0, squares / power - mean * mean)) };
}

function deviation(values: readonly number[]): number {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length);
}
