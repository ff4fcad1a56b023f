import {
  CLEAR_ARRIVAL,
  ARRIVAL_BY_CHANCE,
  PAIR_REACH_MS,
  PAIR_SWING_DB,
  PAIR_SWING_MS,
  LEAST_SWING_DB,
  LEAST_SWING_MS,
  PANNED_SWING_DB,
  UNRELATED_SWING_DB,
  ALMOST,
} from './boundaries.ts';
import type { PairMatch } from '../measure/pair/pairMatch.ts';

/**
 * Of two microphones, how many people they are for: where talkers alternate, the level difference swings between the stretches that lean to one side
 * and those that lean to the other; one talker heard near and far is as much louder on one side all the way through.
 */
export function talkersOf({ leaning: { left, right } }: PairMatch): 1 | 2 {
  const swingDb = (left.levelDifferenceDb - right.levelDifferenceDb) / 2;
  return left.stretches >= 2 && right.stretches >= 2 && swingDb >= LEAST_SWING_DB ? 2 : 1;
}

/**
 * How much a pair looks like two microphones that were never meant as a stereo pair: above 1 it is, below 1 it is one
 * sound field. No single number tells; each of these exceeds what a pair's geometry allows:
 *
 * - one steady arrival difference longer than sound needs between the microphones of a pair (65 cm is 1.9 ms);
 * - level differences that swing between two values as talkers alternate, the nearer side both louder and earlier. A coincident pair
 *   swings in level but not in time, a spaced pair in time but hardly in level.
 */
export function twoMicrophoneScore(match: PairMatch, sampleRate: number): number {
  const milliseconds = (samples: number): number => (1000 * samples) / sampleRate;
  const {
    arrival,
    leaning: { left, right },
  } = match;
  const distance = Math.abs(milliseconds(arrival.delaySamples)) / PAIR_REACH_MS;
  // A peak that hardly stands out makes doubtful what it can't decide.
  const half = Math.max(0, (arrival.prominence - ARRIVAL_BY_CHANCE) / (CLEAR_ARRIVAL - ARRIVAL_BY_CHANCE));
  const steady = arrival.prominence >= CLEAR_ARRIVAL ? distance : Math.min(ALMOST, distance * half);
  const swingDb = (left.levelDifferenceDb - right.levelDifferenceDb) / 2;
  const clear = [left, right].map(({ prominence, stretches }) => stretches >= 2 && prominence >= CLEAR_ARRIVAL);
  const leftLag = milliseconds(left.delaySamples);
  const rightLag = milliseconds(right.delaySamples);
  let turns: number;
  if (clear[0] && clear[1]) {
    const swingMs = Math.max(0, (leftLag - rightLag) / 2);
    turns =
      swingMs < LEAST_SWING_MS
        ? swingDb / PANNED_SWING_DB
        : Math.sqrt((swingDb / PAIR_SWING_DB) * (swingMs / PAIR_SWING_MS));
    if (swingDb < LEAST_SWING_DB) turns = Math.min(turns, ALMOST);
  } else {
    turns = swingDb / UNRELATED_SWING_DB;
    if (swingDb >= LEAST_SWING_DB) {
      const far = Math.max(clear[0] ? Math.abs(leftLag) : 0, clear[1] ? Math.abs(rightLag) : 0);
      turns = Math.max(turns, far / PAIR_REACH_MS);
    }
  }
  return Math.max(steady, turns);
}
