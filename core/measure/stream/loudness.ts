import { largestAt, ranked, slidingMeans, totalOf, valuesAbove } from '../../kernels/blockSeries.ts';

// A series of K-weighted mean squares, one for each 100 ms, is all that the loudness meters need.
const STEPS_IN_MOMENTARY = 4;
const STEPS_IN_SHORT_TERM = 30;
const ABSOLUTE_GATE = powerFromLufs(-70);
const INTEGRATED_GATE_LU = -10;
const RANGE_GATE_LU = -20;
const RANGE_LOW = 0.1;
const RANGE_HIGH = 0.95;

/** BS.1770-5, annex 1, equation 2: the constant takes back the K-filter's gain at 1 kHz. */
function lufsFromPower(weightedPower: number): number {
  return -0.691 + 10 * Math.log10(weightedPower);
}

function powerFromLufs(lufs: number): number {
  return 10 ** ((lufs + 0.691) / 10);
}

/** What the loudness meters say of one sound, or of channels heard together. */
export interface Loudness {
  /** -Infinity where nothing passes the gates. */
  integratedLufs: number;
  /** The largest momentary loudness (EBU Tech 3341, section 2.2: 400 ms, no gate). */
  momentaryMaxLufs: number;
  /** The largest short-term loudness (EBU Tech 3341, section 2.2: 3 s, no gate). -Infinity in less than 3 s. */
  shortTermMaxLufs: number;
  /** In LU; 0 in less than 3 s or where nothing is audible. */
  rangeLu: number;
}

/** @param stepPowers K-weighted mean square of each 100 ms step, summed over the channels heard together */
export function loudnessOf(stepPowers: Float64Array): Loudness {
  const momentary = movingMeans(stepPowers, STEPS_IN_MOMENTARY);
  const shortTerm = movingMeans(stepPowers, STEPS_IN_SHORT_TERM);
  return {
    integratedLufs: integrated(momentary),
    momentaryMaxLufs: lufsFromPower(largest(momentary)),
    shortTermMaxLufs: lufsFromPower(largest(shortTerm)),
    rangeLu: range(shortTerm),
  };
}

/** Integrated loudness alone, LUFS. */
export function integratedLoudness(stepPowers: Float64Array): number {
  return integrated(movingMeans(stepPowers, STEPS_IN_MOMENTARY));
}

/** BS.1770-5, annex 1, with the 400 ms blocks, 75 % overlap and both gates. */
function integrated(momentary: Float64Array): number {
  const { audible, gate } = gated(momentary, INTEGRATED_GATE_LU);
  return audible.length === 0 ? -Infinity : lufsFromPower(mean(valuesAbove(audible, gate)));
}

/**
 * Loudness range (EBU Tech 3342, section 2): from the 10th to the 95th percentile of the short-term loudness
 * that passes an absolute gate at -70 LUFS and a relative one 20 LU below what passed the first.
 */
function range(shortTerm: Float64Array): number {
  const { audible, gate } = gated(shortTerm, RANGE_GATE_LU);
  const kept = valuesAbove(audible, gate, true);
  if (kept.length === 0) return 0;
  const at = (share: number): number => ranked(kept, Math.round(share * (kept.length - 1)));
  return 10 * Math.log10(at(RANGE_HIGH) / at(RANGE_LOW));
}

function gated(powers: Float64Array, relativeLu: number): { audible: Float64Array; gate: number } {
  const audible = valuesAbove(powers, ABSOLUTE_GATE);
  return { audible, gate: mean(audible) * 10 ** (relativeLu / 10) };
}

function movingMeans(steps: Float64Array, length: number): Float64Array {
  return slidingMeans(steps, length, Math.max(0, steps.length - length + 1));
}

function largest(values: Float64Array): number {
  return values.length === 0 ? 0 : values[largestAt(values)];
}

function mean(values: Float64Array): number {
  return totalOf(values) / values.length;
}
