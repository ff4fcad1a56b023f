import type { Talk } from '../../measure/stream/talkMeter.ts';
import { noiseFloorPower, percentile } from '../../measure/stream/noiseFloor.ts';
import { dbFromPower } from '../../signal/decibels.ts';

// Over the floor of its microphone by less than this nobody is sure to speak.
const SPEAKING_OVER_FLOOR_DB = 8;
// Single steps of 20 ms rise and fall with every period of a voice.
const SMOOTHED_STEPS = 3;
// Medians of medians settle in a few rounds.
const ROUNDS = 8;
// A talker may have so small a share of what is spoken.
const SELDOM_SHARE = 0.02;
// A microphone into which nobody speaks, as if somebody did and the others hardly heard it.
const UNHEARD_DB = 20;
// More do not make the medians surer.
const MOST_STEPS = 6000;
const NOTHING = 1e-14;

/** How a talker is heard: by the own microphone, and how much softer by each other one. */
export interface Talkers {
  /** Smoothed speech power of each microphone, its floor taken off. */
  powers: Float64Array[];
  /** What goes on in the pauses of each. */
  floors: number[];
  /** `bleedDb[talker][microphone]`: 0 at the own one. */
  bleedDb: number[][];
  /** How far the levels at all microphones tell each two talkers apart; the least of any two. */
  apartDb: number;
  blockSeconds: number;
}

/**
 * Learns from the levels alone who is near which microphone: whoever speaks is as much louder at the own one as the distances make it, so the steps
 * in which anybody speaks fall into one heap for each talker (k-medians over the level differences; K. Bradley, O. Mangasarian and W. Street, 1997).
 * A microphone's gain makes no difference: it moves all heaps alike.
 */
export function learnTalkers({ powers: raw, blockSeconds }: Talk): Talkers {
  const floors = raw.map((power) => noiseFloorPower(power) + NOTHING);
  const powers = raw.map((power, c) => smoothed(power).map((value) => Math.max(NOTHING, value - floors[c])));
  const count = powers[0].length;
  const least = floors.map((floor) => floor * 10 ** (SPEAKING_OVER_FLOOR_DB / 10));
  const spoken: number[] = [];
  for (let t = 0; t < count; t++) if (powers.some((power, c) => power[t] > least[c])) spoken.push(t);
  const every = Math.ceil(spoken.length / MOST_STEPS);
  const speaking = spoken.filter((_, i) => i % every === 0);
  // Under its floor a microphone says nothing of levels.
  const levels = speaking.map((t) => powers.map((power, c) => dbFromPower(Math.max(power[t], floors[c]))));
  // A microphone stands out from the others where its own talker speaks, however seldom, and least where it only hears bleed.
  const standing = levels.map(relative);
  const middle = powers.map((_, c) => {
    const own = standing.map((level) => level[c]);
    return (percentile(own, SELDOM_SHARE) + percentile(own, 1 - SELDOM_SHARE)) / 2;
  });
  let nearest = standing.map((level) => largest(level.map((db, c) => db - middle[c])));
  let centres = centresOf(standing, nearest, middle);
  for (let round = 0; round < ROUNDS; round++) {
    nearest = standing.map((level) => closest(level, centres));
    centres = centresOf(standing, nearest, middle);
  }
  const bleedDb = centres.map((centre, talker) => centre.map((db) => db - centre[talker]));
  return { powers, floors, bleedDb, apartDb: leastApart(bleedDb), blockSeconds };
}

/** One talker heard twice is no nearer to one microphone than to another: as far as the levels tell. */
function leastApart(bleedDb: number[][]): number {
  let least = Infinity;
  for (let a = 0; a < bleedDb.length; a++)
    for (let b = a + 1; b < bleedDb.length; b++) least = Math.min(least, -(bleedDb[a][b] + bleedDb[b][a]));
  return least;
}

/** The median of the level differences of each talker's steps. */
function centresOf(standing: number[][], nearest: number[], middle: number[]): number[][] {
  return middle.map((_, talker) => {
    const own = standing.filter((_, i) => nearest[i] === talker);
    if (own.length === 0) return relative(middle.map((db, c) => db + (c === talker ? UNHEARD_DB : 0)));
    return middle.map((_, c) =>
      percentile(
        own.map((level) => level[c]),
        0.5,
      ),
    );
  });
}

function relative(level: number[]): number[] {
  const mean = level.reduce((sum, db) => sum + db, 0) / level.length;
  return level.map((db) => db - mean);
}

function closest(level: number[], centres: number[][]): number {
  const distances = centres.map((centre) => centre.reduce((sum, db, c) => sum + Math.abs(db - level[c]), 0));
  return distances.indexOf(Math.min(...distances));
}

function largest(values: number[]): number {
  return values.indexOf(Math.max(...values));
}

/** The mean of each step and its neighbours. */
function smoothed(power: Float64Array): Float64Array {
  const half = (SMOOTHED_STEPS - 1) / 2;
  const out = new Float64Array(power.length);
  for (let t = 0; t < power.length; t++) {
    const from = Math.max(0, t - half);
    const to = Math.min(power.length, t + half + 1);
    let sum = 0;
    for (let i = from; i < to; i++) sum += power[i];
    out[t] = sum / (to - from);
  }
  return out;
}
