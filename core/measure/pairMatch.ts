import { dbFromPower } from '../signal/decibels.ts';
import { nearestPowerOfTwo } from '../signal/spectrum.ts';
import { ArrivalFinder, strongestArrival, sumOfCorrelograms, type Arrival, type Correlogram } from './arrival.ts';
import { CrossSpectrumMeter, incoherentShare, type CrossSpectrum } from './crossSpectrum.ts';
import { fitShortFilter, type FilterExample } from './shortFilter.ts';

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
  /** Right relative to left, of what they share. */
  gainDb: number;
  /** With no help; with the best gain and polarity; with delay too; with a short filter too, the better way round. */
  plainNullDb: number;
  levelNullDb: number;
  alignedNullDb: number;
  matchedNullDb: number;
  /** How well each side foretells the other through the filter: what is left, in dB of the foretold side's power. */
  leftFromRightDb: number;
  rightFromLeftDb: number;
  /** What no filter brings into agreement, as a share of the power. */
  incoherent: number;
  arrival: Arrival;
  /** One for each stretch. */
  arrivals: StretchArrival[];
  /** The arrival while the left side is the louder one, and while the right is; null where that does not happen. */
  leaning: { left: LeaningArrival | null; right: LeaningArrival | null };
  /** For drawing. */
  correlogram: Correlogram;
  spectrum: CrossSpectrum;
  noise: CrossSpectrum | null;
}

export interface StretchArrival extends Arrival {
  startFrame: number;
  /** Left over right, in dB. */
  levelDifferenceDb: number;
}

export interface LeaningArrival extends Arrival {
  stretches: number;
  levelDifferenceDb: number;
}

/** A stretch of both sides with `margin` samples more at either end (zeros beyond the clip). */
export interface StretchSound {
  startFrame: number;
  left: Float64Array;
  right: Float64Array;
}

export interface MatchInput {
  sampleRate: number;
  margin: number;
  active: StretchSound[];
  pauses: StretchSound[];
}

/** Longest delay looked for: 40 ms is a disguise, 50 ms is sound walking 17 m. */
export const REACH_SECONDS = 0.05;
const SPECTRUM_SECONDS = 0.085;
const SHORT_TAPS_SECONDS = 0.0027;
const LONG_TAPS_SECONDS = 0.016;
const MOST_FILTER_STRETCHES = 12;
const FILTER_SECONDS = 0.17;
// Where the sides share this little, no filter is worth looking for.
const HOPELESS_INCOHERENT = 0.5;
// Where a filter leaves less than this, no longer one is needed.
const DEEP_ENOUGH_DB = -26;
// Sides that differ by this much lean to one of them.
const LEANING_DB = 3;

/** Room that `matchPair` needs around each stretch, in samples. */
export function matchMargin(sampleRate: number): number {
  return Math.ceil((REACH_SECONDS + LONG_TAPS_SECONDS) * sampleRate) + 2;
}

export function matchPair(input: MatchInput): PairMatch {
  const { sampleRate, margin, active, pauses } = input;
  const length = active[0].left.length - 2 * margin;
  const finder = new ArrivalFinder(sampleRate, length, Math.round(REACH_SECONDS * sampleRate));
  const inner = (sound: Float64Array, shift = 0): Float64Array => sound.subarray(margin + shift, sound.length - margin + shift);
  const correlograms = active.map(({ left, right }) => finder.correlate(inner(left), inner(right)));
  const correlogram = sumOfCorrelograms(correlograms);
  const arrival = strongestArrival(correlogram);
  const shift = Math.round(arrival.delaySamples);

  const spectrumOf = (sounds: StretchSound[], lag: number): CrossSpectrum => {
    const size = Math.min(nearestPowerOfTwo(SPECTRUM_SECONDS * sampleRate), 2 ** Math.floor(Math.log2(length)));
    const meter = new CrossSpectrumMeter(sampleRate, size);
    for (const { left, right } of sounds) meter.push(inner(left), inner(right, lag));
    return meter.finish();
  };
  const spectrum = spectrumOf(active, shift);
  const noise = pauses.length > 0 ? spectrumOf(pauses, shift) : null;
  const unshifted = shift === 0 ? spectrum : spectrumOf(active, 0);
  const unshiftedNoise = shift === 0 || pauses.length === 0 ? noise : spectrumOf(pauses, 0);

  const fraction = refineDelay(spectrum, arrival.height < 0 ? -1 : 1);
  const aligned = powersAbove(spectrum, noise, fraction);
  const level = powersAbove(unshifted, unshiftedNoise, 0);
  const alignedDb = nullDepth(aligned);
  const filters = incoherentShare(spectrum) < HOPELESS_INCOHERENT && alignedDb > -45
    ? filterBothWays(input, shift) : null;
  const matchedDb = Math.min(alignedDb, filters?.matchedDb ?? 0, 0);
  const residualDb = dbFromPower(Math.max(1 - aligned.product ** 2 / (aligned.left * aligned.right), 1e-15));
  const arrivals = active.map((sound, i) => ({
    ...strongestArrival(correlograms[i]), startFrame: sound.startFrame, levelDifferenceDb: levelDifference(inner(sound.left), inner(sound.right)),
  }));
  return {
    stretches: active.length,
    pauses: pauses.length,
    polarity: aligned.product < 0 ? -1 : 1,
    delaySamples: shift + fraction,
    gainDb: dbFromPower(aligned.right / aligned.left),
    plainNullDb: dbFromPower(plainRatio(level)),
    levelNullDb: nullDepth(level),
    alignedNullDb: alignedDb,
    matchedNullDb: matchedDb,
    leftFromRightDb: filters?.leftFromRightDb ?? residualDb,
    rightFromLeftDb: filters?.rightFromLeftDb ?? residualDb,
    incoherent: incoherentShare(spectrum),
    arrival,
    arrivals,
    leaning: { left: leaning(arrivals, correlograms, 1), right: leaning(arrivals, correlograms, -1) },
    correlogram,
    spectrum,
    noise,
  };
}

interface SharedPowers {
  left: number;
  right: number;
  product: number;
}

/** Powers of both sides and their product at a fractional lag, with what the pauses hold taken off. */
function powersAbove(spectrum: CrossSpectrum, noise: CrossSpectrum | null, lag: number): SharedPowers {
  const sounding = powersAt(spectrum, lag);
  if (!noise) return sounding;
  const quiet = powersAt(noise, lag);
  const least = 1e-3;
  return {
    left: Math.max(sounding.left - quiet.left, sounding.left * least),
    right: Math.max(sounding.right - quiet.right, sounding.right * least),
    product: sounding.product - quiet.product,
  };
}

function powersAt({ left, right, crossRe, crossIm }: CrossSpectrum, lag: number): SharedPowers {
  const size = 2 * (left.length - 1);
  const powers = { left: 0, right: 0, product: 0 };
  for (let k = 1; k < left.length; k++) {
    const angle = (2 * Math.PI * k * lag) / size;
    powers.left += left[k];
    powers.right += right[k];
    powers.product += crossRe[k] * Math.cos(angle) - crossIm[k] * Math.sin(angle);
  }
  return powers;
}

/** Depth after the best gain of either sign: of R - gL relative to R + gL. */
function nullDepth({ left, right, product }: SharedPowers): number {
  const agreement = Math.min(1, product ** 2 / (left * right));
  return depthFromResidual(1 - agreement);
}

/** From what is left of a side, as a share of its power, to the depth of the null against the sum. */
function depthFromResidual(share: number): number {
  const left = Math.max(share, 1e-15);
  return dbFromPower(left / (4 - 3 * Math.min(left, 1)));
}

function plainRatio({ left, right, product }: SharedPowers): number {
  const difference = Math.max(left + right - 2 * product, 1e-15 * (left + right));
  return difference / Math.max(left + right + 2 * product, 1e-15 * (left + right));
}

/**
 * The rest of the delay after whole samples, within one sample: the lag at which the cross spectrum turns real,
 * bins weighted by how sure their phase is (Hannan and Thomson, 1973).
 */
function refineDelay(spectrum: CrossSpectrum, sign: number): number {
  const { left, right, crossRe, crossIm } = spectrum;
  const size = 2 * (left.length - 1);
  const weights = left.map((power, k) => {
    const square = crossRe[k] ** 2 + crossIm[k] ** 2;
    const agreement = power * right[k] > 0 ? Math.min(0.9999, square / (power * right[k])) : 0;
    return square > 0 ? agreement / (1 - agreement) / Math.sqrt(square) : 0;
  });
  const inPhase = (lag: number): number => {
    let sum = 0;
    for (let k = 1; k < left.length; k++) {
      const angle = (2 * Math.PI * k * lag) / size;
      sum += weights[k] * (crossRe[k] * Math.cos(angle) - crossIm[k] * Math.sin(angle));
    }
    return sign * sum;
  };
  let [low, high] = [-1, 1];
  const golden = (Math.sqrt(5) - 1) / 2;
  while (high - low > 0.002) {
    const a = high - golden * (high - low);
    const b = low + golden * (high - low);
    if (inPhase(a) > inPhase(b)) high = b;
    else low = a;
  }
  return (low + high) / 2;
}

interface FilterMatch {
  matchedDb: number;
  leftFromRightDb: number;
  rightFromLeftDb: number;
}

/** A filter may have no inverse, so both ways are tried; a long one only where a short one is not enough. */
function filterBothWays(input: MatchInput, shift: number): FilterMatch {
  const short = filterWith(input, shift, tapsIn(SHORT_TAPS_SECONDS, input), 0.5);
  if (short.matchedDb < DEEP_ENOUGH_DB) return short;
  const long = filterWith(input, shift, tapsIn(LONG_TAPS_SECONDS, input), 0.125);
  return long.matchedDb < short.matchedDb ? long : short;
}

function tapsIn(seconds: number, { sampleRate }: MatchInput): number {
  return 4 * Math.max(1, Math.round((seconds * sampleRate) / 4));
}

function filterWith({ sampleRate, margin, active, pauses }: MatchInput, shift: number, taps: number, before: number): FilterMatch {
  const every = Math.ceil(active.length / MOST_FILTER_STRETCHES);
  const chosen = active.filter((_, i) => i % every === 0);
  const count = Math.min(Math.round(FILTER_SECONDS * sampleRate), active[0].left.length - 2 * margin);
  const ahead = Math.round(taps * before);
  const examples = (sounds: StretchSound[], rightFromLeft: boolean): FilterExample[] => sounds.map(({ left, right }) => {
    const [source, target] = rightFromLeft ? [left, right] : [right, left];
    const lag = rightFromLeft ? shift : -shift;
    // Target sample n is foretold from source samples around n - lag: most of them earlier, `ahead` of them later.
    const first = margin + Math.max(0, lag);
    const sourceFirst = first - lag - (taps - 1 - ahead);
    return { target: target.subarray(first, first + count), source: source.subarray(sourceFirst, sourceFirst + count + taps) };
  });
  const residual = (rightFromLeft: boolean): number => {
    const filter = fitShortFilter(examples(chosen, rightFromLeft), examples(pauses, rightFromLeft), taps);
    const target = Math.max(filter.targetPower - filter.pauseTargetPower, 1e-3 * filter.targetPower);
    return Math.max(filter.residualPower - filter.pauseResidualPower, 1e-7 * target) / Math.max(target, Number.MIN_VALUE);
  };
  const [left, right] = [residual(false), residual(true)];
  return {
    matchedDb: depthFromResidual(Math.min(left, right)), leftFromRightDb: dbFromPower(left), rightFromLeftDb: dbFromPower(right),
  };
}

function levelDifference(left: Float64Array, right: Float64Array): number {
  let [l, r] = [1e-20, 1e-20];
  for (let i = 0; i < left.length; i++) {
    l += left[i] * left[i];
    r += right[i] * right[i];
  }
  return dbFromPower(l / r);
}

function leaning(arrivals: StretchArrival[], correlograms: Correlogram[], side: 1 | -1): LeaningArrival | null {
  const chosen = arrivals.map((_, i) => i).filter((i) => arrivals[i].levelDifferenceDb * side > LEANING_DB);
  if (chosen.length === 0) return null;
  const levels = chosen.map((i) => arrivals[i].levelDifferenceDb).sort((a, b) => a - b);
  return {
    ...strongestArrival(sumOfCorrelograms(chosen.map((i) => correlograms[i]))),
    stretches: chosen.length,
    levelDifferenceDb: levels[Math.floor(levels.length / 2)],
  };
}
