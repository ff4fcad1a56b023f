import { CLEAR_ARRIVAL, DISGUISED_GAIN_DB, DISGUISED_NULL_DB } from '../boundaries.ts';
import type { Arrival } from '../spectra/arrival.ts';
import { filterWith, MOST_FILTER_STRETCHES, SHORT_TAPS_SECONDS, tapsIn } from './filterMatch.ts';
import { correlated, middleAndSide, type MatchInput, type StretchSound } from './matchInput.ts';

// An echo is the voice, so most of what is heard of it agrees; less where a coder put its own noise on both sides.
const ECHO_HEIGHT = 0.4;
const CODED_HEIGHT = 0.3;
/**
 * Then the echo is told by its arrival alone: so clear, so late, and so much of the side foretold by it. Pairs, mixes and microphones reach a height of
 * 0.1 and a prominence of 6 that late; combs at 48 to 96 kbit/s 0.34 and 25, with 3.4 to 19 dB taken off.
 */
const SURE_PROMINENCE = 15;
const LATE_SECONDS = 0.005;
const CODED_LEFT_DB = -4;
const FEW_STRETCHES = 3;

export interface Echo {
  seconds: number;
  /** What is left of left minus right once the echo is undone, against left plus right. */
  nullDb: number;
}

/**
 * Where half the difference is half the sum a while later, one voice was spread by an echo of its own: added on one side, taken off on the other (M. Schroeder,
 * "An artificial stereophonic effect obtained from a single audio signal", 1958). null where it is not.
 */
export function echoBetween(input: MatchInput, plainNullDb: number): Echo | null {
  const every = Math.ceil(input.active.length / MOST_FILTER_STRETCHES);
  const chosen = input.active.filter((_, i) => i % every === 0);
  // An echo is in every stretch: a few of them show that there is none.
  const few = chosen.filter((_, i) => i % Math.ceil(chosen.length / FEW_STRETCHES) === 0);
  const middleAndSideOf = (sound: StretchSound): StretchSound => middleAndSide(sound, input.room);
  if (!isClear(correlated({ ...input, active: few.map(middleAndSideOf) }).arrival, CODED_HEIGHT)) return null;
  const split = { ...input, active: chosen.map(middleAndSideOf), pauses: input.pauses.map(middleAndSideOf) };
  const { arrival } = correlated(split);
  const shift = Math.round(arrival.delaySamples);
  if (!isClear(arrival, CODED_HEIGHT) || shift <= 0) return null;
  const { rightFromLeftDb } = filterWith(split, shift, tapsIn(SHORT_TAPS_SECONDS, split), 0.5);
  const nullDb = plainNullDb + rightFromLeftDb;
  const seconds = shift / input.sampleRate;
  const isUndone =
    isClear(arrival, ECHO_HEIGHT) && nullDb <= DISGUISED_NULL_DB && plainNullDb - nullDb >= DISGUISED_GAIN_DB;
  const isCoded = arrival.prominence >= SURE_PROMINENCE && seconds >= LATE_SECONDS && rightFromLeftDb <= CODED_LEFT_DB;
  return isUndone || isCoded ? { seconds, nullDb } : null;
}

function isClear({ prominence, height }: Arrival, least: number): boolean {
  return prominence >= CLEAR_ARRIVAL && Math.abs(height) >= least;
}
