import type { Sway } from '../../schema/inspection.ts';
import { dbFromPower } from '../../signal/decibels.ts';
import {
  CODED_COPY_NULL_DB,
  DISGUISED_GAIN_DB,
  DISGUISED_NULL_DB,
  ROOM_NULL_DB,
  SOONEST_ROOM_MS,
} from '../boundaries.ts';
import { strongestArrival, sumOfCorrelograms, type Arrival, type Correlogram } from '../spectra/arrival.ts';
import { coincidenceOf, type Coincidence } from '../spectra/coincidence.ts';
import {
  differenceCoherence,
  incoherentShare,
  inPhase,
  noiseShare,
  type CrossSpectrum,
} from '../spectra/crossSpectrum.ts';
import { LOWERING_MARGIN } from '../spectra/lowerRate.ts';
import {
  bestGain,
  meanPowers,
  nullDepth,
  plainRatio,
  powersAt,
  sharedPowers,
  type SharedPowers,
} from '../spectra/nullDepths.ts';
import { dyingAway, fallsOf, type DyingAway } from './dyingAway.ts';
import { echoBetween } from './echo.ts';
import { filterBothWays, LONG_TAPS_SECONDS, PEEK_TAPS_SECONDS } from './filterMatch.ts';
import { correlated, REACH_SECONDS, within, type MatchInput, type StretchSound } from './matchInput.ts';
import { spectrumOf, type WholeBand } from './pairSpectra.ts';

/**
 * What the two sides of a pair have in common once polarity, gain, delay and a short filter are undone.
 * Depths of nulls are RMS of (L - R) relative to (L + R) of the sound above the noise of the pauses, in dB.
 */
export interface PairMatch {
  /** How many stretches were looked at, and how many pauses. */
  stretches: number;
  pauses: number;
  polarity: 1 | -1;
  /** Right later than left is positive. */
  delaySamples: number;
  /** How much more of delay comes with time, in parts per million of it: clocks that run apart. The delay is then that at the clip's start. */
  driftPpm: number;
  /** From this frame of the clip on the delay is so many samples more, once; null where it stays. The delay is then that before it. */
  jump: { atFrame: number; samples: number } | null;
  /** Right relative to left, of what they share. */
  gainDb: number;
  /** One side is the voice with an echo so much later, the other the voice less that echo: a wide comb. 0 where there is none. */
  echoSeconds: number;
  /** A copy whose delay goes to and fro, beside the voice or alone; null where there is none. */
  sway: Sway | null;
  /** How far the gain moves, in dB from the softest twentieth to the loudest: a limiter or an automatic gain on one side. 0 where it stands. */
  gainMovesDb: number;
  /** Which side that gain was on. */
  limited: 'left' | 'right' | null;
  /** With no help; with the best gain and polarity; with delay too; with a short filter too, the better way round. */
  plainNullDb: number;
  levelNullDb: number;
  /** With no help, below 3.5 kHz: lossy coders put noise of their own on each side above that. */
  lowPlainNullDb: number;
  /** How much of left minus right is foretold by left plus right, 0..1: programme is, noise is not. */
  differenceCoherence: number;
  alignedNullDb: number;
  matchedNullDb: number;
  /** How well each side foretells the other through the filter: what is left, in dB of the foretold side's power. */
  leftFromRightDb: number;
  rightFromLeftDb: number;
  /** What no filter brings into agreement, as a share of the power. */
  incoherent: number;
  /** Where undoing nulls, or nearly does: how much, 0..1, is not undone where the levels differ as they mostly do not. Somebody else is heard there. */
  unlike: number;
  /** Where one comes later and they nearly null: how much more a filter leaves of what dies away than of what sets in, in dB; null where that can't be told. */
  dyingDb: number | null;
  arrival: Arrival;
  /** Whether the sides hear each sound at once, of either polarity; null where hardly a stretch comes at once. */
  coincidence: Coincidence | null;
  /** null where too little dies away over the noise. */
  dyingAway: DyingAway | null;
  /** One for each stretch. */
  arrivals: StretchArrival[];
  /** The arrival while the left side is louder than it mostly is, and while the right is: two people take turns, one does not. */
  leaning: { left: LeaningArrival; right: LeaningArrival };
  /** For drawing. */
  correlogram: Correlogram;
  spectrum: CrossSpectrum;
  noise: CrossSpectrum | null;
  /** The same up to what is heard, where it was asked for or the sides nearly null; else what these have. */
  wholeBand: WholeBand;
  /** Samples of both sides at the same times, from all stretches. */
  scope: { left: number[]; right: number[] };
}

interface StretchArrival extends Arrival {
  startFrame: number;
  /** Left over right, in dB. */
  levelDifferenceDb: number;
  /** What no filter brings into agreement, as a share of the power, at the arrival of all; from few windows it seems less than it is. */
  incoherent: number;
}

export interface LeaningArrival extends Arrival {
  stretches: number;
  levelDifferenceDb: number;
  dyingAway: DyingAway | null;
}

const PHASE_RATE_SHARE = 0.4;
const SCOPE_POINTS = 1500;
const CODED_APART_HZ = 3500;
const DIFFERENCE_BELOW_HZ = 8000;
// What comes at once comes within this, in this share of the stretches at least.
const AT_ONCE_SECONDS = 0.0001;
const SOME_AT_ONCE = 0.1;
// Where the sides share this little, no filter is worth looking for.
const HOPELESS_INCOHERENT = 0.35;
// One signal in disguise leaves a twenty-fifth; where three times that disagrees, noise aside, no filter however long brings it there.
const HOPELESS_BESIDE_NOISE = 0.12;
// Where the sides null this deep as they are, no filter is needed.
const ALIGNED_ENOUGH_DB = -45;

/** Room that `matchPair` needs around each stretch, in samples. */
export function matchMargin(sampleRate: number): number {
  return 2 * Math.ceil(((REACH_SECONDS + LONG_TAPS_SECONDS) * sampleRate) / 2) + LOWERING_MARGIN;
}

/**
 * What the stretches of a pair have in common.
 * @param input equally loud stretches
 * @param mayEcho whether an echo that sets the sides apart is looked for
 * @param isPeek whether all that is asked is if the sides null: what disagrees too much for that is not filtered
 */
export function matchPair(input: MatchInput, { mayEcho = true, isPeek = false } = {}): PairMatch {
  const { active, pauses, margin } = input;
  const scope = scopeOf(active, margin);
  const { correlograms, correlogram, arrival } = isPeek ? correlated(input, 1) : correlated(input);
  const shift = Math.round(arrival.delaySamples);
  const { spectrum, apart } = spectrumOf(input, active, shift);
  const noise = pauses.length > 0 ? spectrumOf(input, pauses, shift).spectrum : null;
  const fraction = refineDelay(spectrum, arrival.height < 0 ? -1 : 1);
  const aligned = powersAt(spectrum, fraction);
  const alignedNoise = noise && powersAt(noise, fraction);
  const powers = powersOf(active, margin);
  const level = meanPowers(powers);
  const levelNoise = pauses.length > 0 ? meanPowers(powersOf(pauses, margin)) : null;
  const alignedDb = nullDepth(aligned, alignedNoise);
  const gain = bestGain(aligned, alignedNoise);
  const incoherent = incoherentShare(spectrum);
  const mayNull = incoherent - (noise ? noiseShare(spectrum, noise) : 0) < HOPELESS_BESIDE_NOISE;
  const longSeconds = mayNull ? (isPeek ? PEEK_TAPS_SECONDS : LONG_TAPS_SECONDS) : null;
  const isWorthFiltering = incoherent < HOPELESS_INCOHERENT && (mayNull || !isPeek);
  const filters = isWorthFiltering && alignedDb > ALIGNED_ENOUGH_DB ? filterBothWays(input, shift, longSeconds) : null;
  const plainDb = dbFromPower(plainRatio(level, levelNoise));
  const bestDb = Math.min(alignedDb, filters?.matchedDb ?? 0, 0);
  const nulls = bestDb <= DISGUISED_NULL_DB && plainDb - bestDb >= DISGUISED_GAIN_DB;
  const isLate = Math.abs(shift + fraction) >= (SOONEST_ROOM_MS * input.sampleRate) / 1000;
  const nearly = !isPeek && filters !== null && isLate && alignedDb <= CODED_COPY_NULL_DB && bestDb > ROOM_NULL_DB;
  const unlike =
    (nulls || nearly) && input.unlike.length > 0
      ? (filters ?? filterBothWays(input, shift, longSeconds)).unforetold()
      : 0;
  const echo = mayEcho && bestDb > DISGUISED_NULL_DB ? echoBetween(input, plainDb) : null;
  const matchedDb = Math.min(bestDb, echo?.nullDb ?? 0);
  const residualDb = dbFromPower(Math.max(1 - aligned.product ** 2 / (aligned.left * aligned.right), 1e-15));
  const arrivals = active.map((sound, i) => ({
    ...strongestArrival(correlograms[i]),
    startFrame: sound.startFrame,
    incoherent: apart[i],
    levelDifferenceDb: levelDifference(powers[i]),
  }));
  const dyingDb = nearly ? filters.dyingDb(active) : null;
  const falls = isPeek || alignedDb <= ALIGNED_ENOUGH_DB ? [] : fallsOf(input);
  return {
    stretches: active.length,
    pauses: pauses.length,
    polarity: gain < 0 && !echo ? -1 : 1,
    // Of sides that an echo sets apart neither is later or louder.
    delaySamples: echo ? 0 : shift + fraction,
    driftPpm: 0,
    jump: null,
    gainMovesDb: 0,
    limited: null,
    echoSeconds: echo?.seconds ?? 0,
    sway: null,
    gainDb: echo ? 0 : dbFromPower(gain * gain),
    plainNullDb: plainDb,
    levelNullDb: nullDepth(level, levelNoise),
    lowPlainNullDb:
      shift === 0
        ? dbFromPower(plainRatio(powersAt(spectrum, 0, CODED_APART_HZ), noise && powersAt(noise, 0, CODED_APART_HZ)))
        : 0,
    differenceCoherence: shift === 0 ? differenceCoherence(spectrum, DIFFERENCE_BELOW_HZ) : 0,
    alignedNullDb: alignedDb,
    matchedNullDb: matchedDb,
    leftFromRightDb: filters?.leftFromRightDb ?? residualDb,
    rightFromLeftDb: filters?.rightFromLeftDb ?? residualDb,
    incoherent,
    unlike,
    dyingDb,
    arrival,
    coincidence: isPeek ? null : coincidenceWithin(input, arrivals),
    dyingAway: dyingAway(falls),
    arrivals,
    leaning: leanings(arrivals, correlograms, falls),
    correlogram,
    spectrum,
    noise,
    wholeBand: { spectrum, noise },
    scope,
  };
}

/** Only where some stretches come at once, as measuring every moment takes its time. */
function coincidenceWithin({ active, margin, sampleRate }: MatchInput, arrivals: StretchArrival[]): Coincidence | null {
  const atOnce = arrivals.filter(({ delaySamples }) => Math.abs(delaySamples) <= AT_ONCE_SECONDS * sampleRate);
  if (atOnce.length < SOME_AT_ONCE * arrivals.length) return null;
  const sounds = active.map(({ left, right }) => ({ left: within(left, margin), right: within(right, margin) }));
  return coincidenceOf(sounds, sampleRate);
}

function powersOf(sounds: StretchSound[], margin: number): SharedPowers[] {
  return sounds.map(({ left, right }) => sharedPowers(within(left, margin), within(right, margin)));
}

/**
 * The rest of the delay after whole samples, within one sample: the lag at which the cross spectrum turns real,
 * bins weighted by how sure their phase is (Hannan and Thomson, 1973).
 */
function refineDelay(spectrum: CrossSpectrum, sign: number): number {
  const { left, right, crossRe, crossIm } = spectrum;
  const size = 2 * (left.length - 1);
  const weighted = { crossRe: new Float64Array(left.length), crossIm: new Float64Array(left.length) };
  for (let k = 0; k < left.length; k++) {
    const square = crossRe[k] * crossRe[k] + crossIm[k] * crossIm[k];
    const scale = left[k] * right[k];
    const agreement = scale > 0 ? Math.min(0.9999, square / scale) : 0;
    const weight = square > 0 ? (sign * agreement) / (1 - agreement) / Math.sqrt(square) : 0;
    weighted.crossRe[k] = weight * crossRe[k];
    weighted.crossIm[k] = weight * crossIm[k];
  }
  // Close to half the rate interpolation and converters bend the phase.
  const end = Math.floor(PHASE_RATE_SHARE * size);
  const agreeing = (lag: number): number => inPhase(weighted, (2 * Math.PI * lag) / size, 1, end);
  // Golden section: of the two lags within the range one is known from the step before.
  const golden = (Math.sqrt(5) - 1) / 2;
  let low = -1;
  let high = 1;
  let a = high - golden * (high - low);
  let b = low + golden * (high - low);
  let atA = agreeing(a);
  let atB = agreeing(b);
  while (high - low > 0.002) {
    if (atA > atB) {
      [high, b, atB] = [b, a, atA];
      a = high - golden * (high - low);
      atA = agreeing(a);
    } else {
      [low, a, atA] = [a, b, atB];
      b = low + golden * (high - low);
      atB = agreeing(b);
    }
  }
  return (low + high) / 2;
}

function scopeOf(sounds: StretchSound[], margin: number): PairMatch['scope'] {
  const scope: PairMatch['scope'] = { left: [], right: [] };
  const each = Math.ceil(SCOPE_POINTS / sounds.length);
  for (const { left, right } of sounds) {
    const step = Math.max(1, Math.floor((left.length - 2 * margin) / each));
    for (let i = margin; i < left.length - margin; i += step) {
      scope.left.push(Math.round(left[i] * 1e5) / 1e5);
      scope.right.push(Math.round(right[i] * 1e5) / 1e5);
    }
  }
  return scope;
}

function levelDifference({ left, right }: SharedPowers): number {
  return dbFromPower((left + 1e-20) / (right + 1e-20));
}

function leanings(
  arrivals: StretchArrival[],
  correlograms: Correlogram[],
  falls: ReturnType<typeof fallsOf>,
): PairMatch['leaning'] {
  const order = arrivals.map((_, i) => i).sort((a, b) => arrivals[a].levelDifferenceDb - arrivals[b].levelDifferenceDb);
  const levelAt = (share: number): number => arrivals[order[Math.round(share * (order.length - 1))]].levelDifferenceDb;
  const middle = (levelAt(0.1) + levelAt(0.9)) / 2;
  const group = (chosen: number[]): LeaningArrival => ({
    ...strongestArrival(sumOfCorrelograms(chosen.map((i) => correlograms[i]))),
    stretches: chosen.length,
    levelDifferenceDb: arrivals[chosen[Math.floor(chosen.length / 2)]].levelDifferenceDb,
    dyingAway: dyingAway(chosen.map((i) => falls[i] ?? null)),
  });
  const above = order.filter((i) => arrivals[i].levelDifferenceDb > middle);
  const below = order.filter((i) => arrivals[i].levelDifferenceDb <= middle);
  return { left: group(above.length > 0 ? above : order), right: group(below.length > 0 ? below : order) };
}
