import {
  CLEAR_ARRIVAL,
  DISGUISED_GAIN_DB,
  DISGUISED_NULL_DB,
  MOMENT_SCATTER_DB,
  ONE_SIGNAL_NULL_DB,
} from '../boundaries.ts';
import { percentile } from '../stream/noiseFloor.ts';
import { driftOf, type Drift } from './drift.ts';
import { jumpOf, type Jump } from './jump.ts';
import { movingGainOf, type Moment } from './movingGain.ts';
import type { MatchInput } from './matchInput.ts';
import type { PairMatch } from './pairMatch.ts';
import { swayBetween } from './sway.ts';

// What no fixed filter undoes, undone where it is there: each takes a match and the way to another one with something undone before.

// What is one signal nulls so much deeper once what moves is undone; two microphones do not.
const WORTH_DB = 6;
// With what moves undone all stretches agree on one arrival.
const SHARPER = 1.3;

function isSharper(undone: PairMatch, plain: PairMatch): boolean {
  return (
    undone.arrival.prominence >= CLEAR_ARRIVAL &&
    Math.abs(undone.arrival.height) >= SHARPER * Math.abs(plain.arrival.height)
  );
}

const JUMPED_NULL_DB = -12;

/** Undoes a delay that changes once, where that brings the sides to agree as no fixed filter does. */
export async function besideJump(
  plain: PairMatch,
  matched: (jump: Jump) => Promise<PairMatch>,
  place: (jump: Jump, match: PairMatch) => Promise<number>,
): Promise<PairMatch> {
  let jump = jumpOf(plain.arrivals);
  if (!jump) return plain;
  let undone = await matched(jump);
  // Arrivals of single stretches are good to a part of a sample; all of them together to less.
  const rest = restOf(undone.arrivals, jump);
  if (rest !== 0) {
    jump = { ...jump, samples: jump.samples + rest };
    undone = await matched(jump);
  }
  const isOne =
    undone.matchedNullDb <= DISGUISED_NULL_DB && plain.plainNullDb - undone.matchedNullDb >= DISGUISED_GAIN_DB;
  // Noise or a coder leaves no deep null, but of two people who take turns no one gain and no one jump bring so much to agree.
  const isNoisy = undone.alignedNullDb <= JUMPED_NULL_DB && isSharper(undone, plain);
  // A long filter may hold both delays, and then nulls nearly as deep; a single delay does not.
  if (!(isOne || isNoisy) || undone.alignedNullDb > plain.alignedNullDb - WORTH_DB) return plain;
  return { ...asTheyWere(plain, undone), jump: { atFrame: await place(jump, undone), samples: jump.samples } };
}

/** With no help the sides are as they were before something was undone. */
export function asTheyWere(plain: PairMatch, undone: PairMatch): PairMatch {
  const { plainNullDb, levelNullDb, lowPlainNullDb, differenceCoherence } = plain;
  return { ...undone, plainNullDb, levelNullDb, lowPlainNullDb, differenceCoherence };
}

/** How much of a jump is left. */
function restOf(arrivals: PairMatch['arrivals'], { latestFrame }: Jump): number {
  const clear = arrivals.filter(({ prominence }) => prominence >= CLEAR_ARRIVAL);
  const [before, after] = [
    clear.filter(({ startFrame }) => startFrame < latestFrame),
    clear.filter(({ startFrame }) => startFrame >= latestFrame),
  ].map((some) =>
    percentile(
      some.map(({ delaySamples }) => delaySamples),
      0.5,
    ),
  );
  const rest = after - before;
  return Number.isFinite(rest) && Math.abs(rest) < 1 ? rest : 0;
}

export interface Evening {
  shift: number;
  /** How many stretches are looked at. */
  most: number;
  stretches: Moment[][];
}

// What differs by less than a gain that moves by two decibels may be a narrow mix, or what a coder made of one: a gain that follows leaves its side ...
const NEARLY_THE_SAME_DB = { plain: -24, level: -28 };
// ... so it must leave next to nothing.
const WHOLLY_UNDONE_DB = -36;
// Where the sides are nearly the same, or nothing is left besides, a gain that hardly moves is told as well.
const LEAST_MOVES_DB = { apart: 2, hardly: 0.5 };
// Where a fixed filter leaves this much, the sides are no two ways of one signal, whatever a gain does.
const NEARLY_ONE_DB = -6;
// A coder leaves no such null, but below 3.5 kHz undoing the gain brings this much (mixes by less: 64 coded ones by 2.7 dB at most, of 40 others those that come so deep by 2.1) ...
const UNDER_A_CODER_WORTH_DB = 3;
const UNDER_A_CODER_NULL_DB = -15;
// ... and what is left is the coder's noise, no programme.
const UNDER_A_CODER_COHERENCE = 0.22;
const FEW_SCATTER_DB = 1.5;
const FEW_STRETCHES = 6;
const ALL_STRETCHES = Number.MAX_SAFE_INTEGER;

/** Undoes a gain that moves on one side, where that brings the sides to agree as no fixed filter does. */
export async function besideMovingGain(
  plain: PairMatch,
  matched: (evening: Evening) => Promise<PairMatch>,
): Promise<PairMatch> {
  if (plain.matchedNullDb > NEARLY_ONE_DB || plain.plainNullDb <= ONE_SIGNAL_NULL_DB) return plain;
  const nearlyTheSame = plain.plainNullDb <= NEARLY_THE_SAME_DB.plain || plain.levelNullDb <= NEARLY_THE_SAME_DB.level;
  const deepEnoughDb = nearlyTheSame ? WHOLLY_UNDONE_DB : DISGUISED_NULL_DB;
  const undo = async (most: number): Promise<{ undone: PairMatch; evening: Evening }> => {
    const evening: Evening = { shift: Math.round(plain.delaySamples), most, stretches: [] };
    return { undone: await matched(evening), evening };
  };
  const isUndone = ({ matchedNullDb }: PairMatch, scatterDb = 0): boolean =>
    matchedNullDb - scatterDb <= Math.min(deepEnoughDb, plain.matchedNullDb - WORTH_DB) &&
    plain.plainNullDb - matchedNullDb + scatterDb >= DISGUISED_GAIN_DB;
  const standingDb = Math.min(plain.levelNullDb, plain.lowPlainNullDb);
  const isUndoneUnderACoder = ({ lowPlainNullDb, differenceCoherence }: PairMatch, scatterDb = 0): boolean =>
    lowPlainNullDb - scatterDb <= Math.min(UNDER_A_CODER_NULL_DB, standingDb - UNDER_A_CODER_WORTH_DB) &&
    (scatterDb > 0 || differenceCoherence <= UNDER_A_CODER_COHERENCE);
  // A few stretches show that it is nothing of the kind, which it mostly is.
  const { undone: few } = await undo(FEW_STRETCHES);
  if (!isUndone(few, MOMENT_SCATTER_DB) && !isUndoneUnderACoder(few, FEW_SCATTER_DB)) return plain;
  const { undone, evening } = await undo(ALL_STRETCHES);
  const leavesNothing = undone.matchedNullDb <= WHOLLY_UNDONE_DB;
  const leastMovesDb = nearlyTheSame || leavesNothing ? LEAST_MOVES_DB.hardly : LEAST_MOVES_DB.apart;
  const moving = movingGainOf(evening.stretches, leastMovesDb, undone.matchedNullDb);
  // Under a coder people who stand apart in a mix may seem to move; but neither side follows how loud they are.
  const isFound = moving && (isUndone(undone) || (moving.limited !== null && isUndoneUnderACoder(undone)));
  if (!isFound) return plain;
  return { ...asTheyWere(plain, undone), gainDb: plain.gainDb, ...moving };
}

// What comes to one side this much later all through stands still; no chorus begins so soon.
const STANDS_SECONDS = 0.001;
const STANDS_WITHIN_SAMPLES = 1.5;
const STANDS_SHARE = 0.8;

/** Undoes a copy whose delay goes to and fro, where nothing else was there to undo. @param input what was matched @param sampleRate of the clip */
export function besideSway(plain: PairMatch, input: MatchInput, sampleRate: number): PairMatch {
  const { driftPpm, jump, gainMovesDb, echoSeconds, matchedNullDb, plainNullDb } = plain;
  if (standsStill(plain, STANDS_SECONDS * sampleRate)) return plain;
  const isUndone = driftPpm !== 0 || jump !== null || gainMovesDb !== 0 || echoSeconds !== 0;
  if (isUndone || matchedNullDb <= DISGUISED_NULL_DB) return plain;
  const found = swayBetween(input, plainNullDb);
  if (!found) return plain;
  const { nullDb, ...sway } = found;
  // Of sides that such a copy sets apart neither is later or louder.
  return { ...plain, sway, matchedNullDb: nullDb, polarity: 1, delaySamples: 0, gainDb: 0 };
}

/** Whether all stretches hear one side so many samples later and more, by the same delay. */
function standsStill({ arrivals, arrival: { delaySamples } }: PairMatch, leastSamples: number): boolean {
  const same = arrivals.filter(
    (own) => own.prominence >= CLEAR_ARRIVAL && Math.abs(own.delaySamples - delaySamples) <= STANDS_WITHIN_SAMPLES,
  );
  return Math.abs(delaySamples) >= leastSamples && same.length >= STANDS_SHARE * arrivals.length;
}

// Two microphones in a room never null, but nobody moves a third of a metre along a line that is straight to a centimetre, as two clocks do.
const SURELY_MOVED_SECONDS = 0.001;

/**
 * Undoes clocks that run apart, in two rounds: beyond the reach of the first, arrivals are found by what the first foretold. Where that nulls no
 * deeper, as with two microphones, the line must be beyond doubt.
 */
export async function besideDrift(
  plain: PairMatch,
  sampleRate: number,
  matched: (drift: Drift) => Promise<PairMatch>,
): Promise<PairMatch> {
  let drift = driftOf(plain.arrivals);
  if (!drift) return plain;
  let undone = await matched(drift);
  const rest = driftOf(undone.arrivals);
  if (rest) {
    drift = { slope: drift.slope + rest.slope };
    undone = await matched(drift);
  }
  const frames = plain.arrivals.map(({ startFrame }) => startFrame);
  const movedSeconds = (Math.abs(drift.slope) * (Math.max(...frames) - Math.min(...frames))) / sampleRate;
  const isSure = movedSeconds >= SURELY_MOVED_SECONDS && isSharper(undone, plain);
  if (undone.matchedNullDb > plain.matchedNullDb - WORTH_DB && !isSure) return plain;
  return { ...asTheyWere(plain, undone), driftPpm: 1e6 * drift.slope };
}
