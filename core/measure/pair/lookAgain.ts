import type { BlockSpan } from '../../time/spans.ts';
import { slowlyShifted } from '../../signal/slowShift.ts';
import { lowerRate } from '../spectra/lowerRate.ts';
import type { Measurement } from '../measurement.ts';
import { amplitudeFromDb } from '../../signal/decibels.ts';
import {
  CLEAR_ARRIVAL,
  DISGUISED_GAIN_DB,
  DISGUISED_NULL_DB,
  MOMENT_SCATTER_DB,
  ONE_SIGNAL_NULL_DB,
} from '../boundaries.ts';
import { driftOf, type Drift } from './drift.ts';
import { jumpOf, placeJump, type Jump } from './jump.ts';
import { percentile } from '../stream/noiseFloor.ts';
import { evenedOut, movingGainOf, type Moment } from './movingGain.ts';
import type { StretchSound } from './matchInput.ts';
import { matchMargin, matchPair, type PairMatch } from './pairMatch.ts';
import type { SoundReader } from '../soundReader.ts';
import { chooseStretches, type Stretches } from './stretches.ts';

/** As many stretches as a sure answer needs. */
export const MOST_ACTIVE = 24;
// Above this rate every second sample is enough for a second look.
const HIGHEST_RATE = 50000;

/** Looks at `mostActive` stretches of two channels again, or fewer, within these blocks. null where nothing sounds. */
export async function lookAgain(
  measurement: Measurement,
  channels: [number, number],
  read: SoundReader,
  {
    blocks = wholeOf(measurement),
    mostActive = MOST_ACTIVE,
    excluded,
    asTheyAre = false,
  }: {
    blocks?: BlockSpan;
    mostActive?: number;
    excluded?: readonly BlockSpan[];
    /** Whether only what one fixed filter undoes is asked for: no clocks that run apart, no delay or gain that moves, no echo. */
    asTheyAre?: boolean;
  } = {},
): Promise<PairMatch | null> {
  const { sampleRate, blockSeconds, frames } = measurement;
  const [left, right] = channels.map((channel) => measurement.channels[channel - 1]);
  const stretches = chooseStretches([left, right], {
    sampleRate,
    blockSeconds,
    ...blocks,
    frames,
    mostActive,
    excluded,
  });
  return stretches.active.length === 0 ? null : matchStretches(stretches, channels, sampleRate, read, asTheyAre);
}

function wholeOf({ channels }: Measurement): BlockSpan {
  return { startBlock: 0, endBlock: channels[0].blockPower.length };
}

async function matchStretches(
  { active, pauses }: Stretches,
  channels: [number, number],
  sampleRate: number,
  read: SoundReader,
  asTheyAre: boolean,
): Promise<PairMatch> {
  let halvings = 0;
  while (sampleRate / 2 ** halvings > HIGHEST_RATE) halvings++;
  const rate = sampleRate / 2 ** halvings;
  const margin = matchMargin(rate);
  const length = Math.min(...[...active, ...pauses].map((stretch) => stretch.frames)) >> halvings;
  const around = margin << halvings;
  const frames = (length << halvings) + 2 * around;
  const matched = async (apart: Drift | Jump | null, evening: Evening | null = null): Promise<PairMatch> => {
    const sounds: StretchSound[] = [];
    const every = evening ? Math.ceil(active.length / evening.most) : 1;
    const chosen = active.filter((_, i) => i % every === 0);
    // One after another: a frame of a clip with many channels is read whole.
    for (const { startFrame } of [...chosen, ...pauses]) {
      const [left, right] =
        apart === null
          ? await read(startFrame - around, frames, channels)
          : 'slope' in apart
            ? await readWithoutDrift(startFrame - around, frames, apart)
            : await readBesideJump(startFrame, frames, apart);
      const [one, other] = [lowerRate(left, halvings), lowerRate(right, halvings)];
      if (!evening) {
        sounds.push({ startFrame, left: one, right: other });
        continue;
      }
      const even = evenedOut(one, other, evening.shift >> halvings, rate);
      sounds.push({ startFrame, left: one, right: even.right });
      evening.stretches.push(even.moments);
    }
    const [activeSounds, pauseSounds] = [sounds.slice(0, chosen.length), sounds.slice(chosen.length)];
    // An echo is there from the first look on, or not at all.
    const mayEcho = apart === null && evening === null && !asTheyAre;
    const match = matchPair({ sampleRate: rate, margin, active: activeSounds, pauses: pauseSounds }, mayEcho);
    return halvings === 0 ? match : atRate(match, 2 ** halvings);
  };
  /** The right side read where it is, as its clock goes. */
  const readWithoutDrift = async (start: number, count: number, { slope }: Drift): Promise<Float64Array[]> => {
    const whole = Math.round(slope * (start + count / 2));
    const [[left], [right]] = [
      await read(start, count, [channels[0]]),
      await read(start + whole, count, [channels[1]]),
    ];
    return [left, slowlyShifted(right, (i) => slope * (start + i) - whole)];
  };
  /** The right side of what lies after a jump read so much later that it comes as before. */
  const readBesideJump = async (startFrame: number, count: number, jump: Jump): Promise<Float64Array[]> => {
    const start = startFrame - around;
    if (startFrame < jump.latestFrame) return read(start, count, channels);
    const whole = Math.round(jump.samples);
    const [[left], [right]] = [
      await read(start, count, [channels[0]]),
      await read(start + whole, count, [channels[1]]),
    ];
    return [left, slowlyShifted(right, () => jump.samples - whole)];
  };
  const first = await matched(null);
  if (asTheyAre) return first;
  const plain = await besideDrift(first, matched);
  if (plain.driftPpm !== 0) return plain;
  const joined = await besideJump(plain, matched, (jump, match) =>
    placeJump(jump, { channels, delaySamples: match.delaySamples, factor: factorOf(match) }, sampleRate, read),
  );
  return joined.jump === null ? besideMovingGain(joined, (evening) => matched(null, evening)) : joined;
}

/** What the right side is of the left one, negative where it is upside down. */
export function factorOf({ gainDb, polarity }: PairMatch): number {
  return polarity * amplitudeFromDb(gainDb);
}

/** Undoes a delay that changes once, where that brings the sides to agree as no fixed filter does. */
async function besideJump(
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
  // A long filter may hold both delays, and then nulls nearly as deep; a single delay does not.
  if (!isOne || undone.alignedNullDb > plain.alignedNullDb - WORTH_DB) return plain;
  const { plainNullDb, levelNullDb, lowPlainNullDb, differenceCoherence } = plain;
  const atFrame = await place(jump, undone);
  return {
    ...undone,
    plainNullDb,
    levelNullDb,
    lowPlainNullDb,
    differenceCoherence,
    jump: { atFrame, samples: jump.samples },
  };
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

interface Evening {
  shift: number;
  /** How many stretches are looked at. */
  most: number;
  stretches: Moment[][];
}

// What differs by less than a gain that moves by two decibels may be a narrow mix, or what a coder made of one: a gain that follows leaves its side ...
const NEARLY_THE_SAME_DB = { plain: -24, level: -28 };
// ... so it must leave next to nothing.
const WHOLLY_UNDONE_DB = -36;
const LEAST_MOVES_DB = { apart: 2, nearlyTheSame: 0.5 };
// Where a fixed filter leaves this much, the sides are no two ways of one signal, whatever a gain does.
const NEARLY_ONE_DB = -6;
const FEW_STRETCHES = 6;

/** Undoes a gain that moves on one side, where that brings the sides to agree as no fixed filter does. */
async function besideMovingGain(
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
  // A few stretches show that it is nothing of the kind, which it mostly is.
  if (!isUndone((await undo(FEW_STRETCHES)).undone, MOMENT_SCATTER_DB)) return plain;
  const { undone, evening } = await undo(MOST_ACTIVE);
  const leastMovesDb = nearlyTheSame ? LEAST_MOVES_DB.nearlyTheSame : LEAST_MOVES_DB.apart;
  const moving = isUndone(undone) ? movingGainOf(evening.stretches, leastMovesDb) : null;
  if (!moving) return plain;
  const { plainNullDb, levelNullDb, lowPlainNullDb, differenceCoherence, gainDb } = plain;
  return {
    ...undone,
    ...{ plainNullDb, levelNullDb, lowPlainNullDb, differenceCoherence, gainDb },
    ...moving,
  };
}

// What drifts and is one signal nulls far deeper once the drift is undone; two microphones do not.
const WORTH_DB = 6;

/** Undoes clocks that run apart, in two rounds: beyond the reach of the first, arrivals are found by what the first foretold. */
async function besideDrift(plain: PairMatch, matched: (drift: Drift) => Promise<PairMatch>): Promise<PairMatch> {
  let drift = driftOf(plain.arrivals);
  if (!drift) return plain;
  let undone = await matched(drift);
  const rest = driftOf(undone.arrivals);
  if (rest) {
    drift = { slope: drift.slope + rest.slope };
    undone = await matched(drift);
  }
  if (undone.matchedNullDb > plain.matchedNullDb - WORTH_DB) return plain;
  // With no help the sides are as they were.
  const { plainNullDb, levelNullDb, lowPlainNullDb, differenceCoherence } = plain;
  return { ...undone, plainNullDb, levelNullDb, lowPlainNullDb, differenceCoherence, driftPpm: 1e6 * drift.slope };
}

/** Delays in samples of the clip's own rate. */
function atRate(match: PairMatch, factor: number): PairMatch {
  const scaled = <T extends { delaySamples: number }>(arrival: T): T => ({
    ...arrival,
    delaySamples: arrival.delaySamples * factor,
  });
  return {
    ...match,
    delaySamples: match.delaySamples * factor,
    arrival: scaled(match.arrival),
    arrivals: match.arrivals.map(scaled),
    leaning: {
      left: scaled(match.leaning.left),
      right: scaled(match.leaning.right),
    },
  };
}
