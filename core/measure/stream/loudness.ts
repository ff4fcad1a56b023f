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

/**
 * Integrated loudness (BS.1770-5, annex 1, with the 400 ms blocks, 75 % overlap and both gates).
 * @param stepPowers K-weighted mean square of each 100 ms step, summed over the channels heard together
 * @returns LUFS; -Infinity where nothing passes the gates
 */
export function integratedLoudness(stepPowers: Float64Array): number {
  const { audible, gate } = gated(slidingMeans(stepPowers, STEPS_IN_MOMENTARY), INTEGRATED_GATE_LU);
  return audible.length === 0 ? -Infinity : lufsFromPower(mean(audible.filter((power) => power > gate)));
}

/** Largest momentary loudness (EBU Tech 3341, section 2.2: 400 ms, no gate), LUFS. */
export function momentaryMax(stepPowers: Float64Array): number {
  return lufsFromPower(largest(slidingMeans(stepPowers, STEPS_IN_MOMENTARY)));
}

/** Largest short-term loudness (EBU Tech 3341, section 2.2: 3 s, no gate), LUFS. -Infinity in less than 3 s. */
export function shortTermMax(stepPowers: Float64Array): number {
  return lufsFromPower(largest(slidingMeans(stepPowers, STEPS_IN_SHORT_TERM)));
}

/**
 * Loudness range (EBU Tech 3342, section 2): from the 10th to the 95th percentile of the short-term loudness
 * that passes an absolute gate at -70 LUFS and a relative one 20 LU below what passed the first.
 * @returns LU; 0 in less than 3 s or where nothing is audible
 */
export function loudnessRange(stepPowers: Float64Array): number {
  const { audible, gate } = gated(slidingMeans(stepPowers, STEPS_IN_SHORT_TERM), RANGE_GATE_LU);
  const kept = audible.filter((power) => power >= gate).sort();
  if (kept.length === 0) return 0;
  const at = (share: number): number => kept[Math.round(share * (kept.length - 1))];
  return 10 * Math.log10(at(RANGE_HIGH) / at(RANGE_LOW));
}

function gated(powers: Float64Array, relativeLu: number): { audible: Float64Array; gate: number } {
  const audible = powers.filter((power) => power > ABSOLUTE_GATE);
  return { audible, gate: mean(audible) * 10 ** (relativeLu / 10) };
}

function slidingMeans(steps: Float64Array, length: number): Float64Array {
  const means = new Float64Array(Math.max(0, steps.length - length + 1));
  for (let i = 0; i < means.length; i++) {
    let sum = 0;
    for (let k = 0; k < length; k++) sum += steps[i + k];
    means[i] = sum / length;
  }
  return means;
}

function largest(values: Float64Array): number {
  return values.reduce((a, b) => Math.max(a, b), 0);
}

function mean(values: Float64Array): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}
