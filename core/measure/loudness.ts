const BLOCKS_IN_GATE = 4;
const ABSOLUTE_GATE_LUFS = -70;
const RELATIVE_GATE_LU = -10;

/** BS.1770-5, annex 1, equation 2: the constant takes back the K-filter's gain at 1 kHz. */
export function lufsFromPower(weightedPower: number): number {
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
  const gateBlocks: number[] = [];
  for (let i = 0; i + BLOCKS_IN_GATE <= stepPowers.length; i++) {
    let power = 0;
    for (let k = 0; k < BLOCKS_IN_GATE; k++) power += stepPowers[i + k];
    gateBlocks.push(power / BLOCKS_IN_GATE);
  }
  const audible = gateBlocks.filter((power) => power > powerFromLufs(ABSOLUTE_GATE_LUFS));
  if (audible.length === 0) return -Infinity;
  const relativeGate = mean(audible) * 10 ** (RELATIVE_GATE_LU / 10);
  return lufsFromPower(mean(audible.filter((power) => power > relativeGate)));
}

function mean(values: number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}
