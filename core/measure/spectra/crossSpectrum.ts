import { sharedTransform, type CrossPowers } from '../../kernels/fourier.ts';

/** Mean power and cross spectra of two sides (Welch, 1967), bins from 0 to half the rate. */
export interface CrossSpectrum extends CrossPowers {
  sampleRate: number;
  windows: number;
}

/**
 * The mean over windows of some sounds, overlapped by half; zeros where there is none. And what of each sound alone no filter brings into agreement, as
 * `incoherentShare` says it.
 */
export function crossSpectrumOf(
  sounds: readonly (readonly [left: Float64Array, right: Float64Array])[],
  sampleRate: number,
  size: number,
): { spectrum: CrossSpectrum; apart: number[] } {
  const transform = sharedTransform(size, 'hann');
  let windows = 0;
  const apart = sounds.map(([left, right]) => {
    for (let start = 0; start + size <= left.length; start += size / 2) {
      transform.add(left.subarray(start, start + size), right.subarray(start, start + size));
      windows++;
    }
    return transform.gather();
  });
  const powers = transform.takeGathered();
  const share = 1 / Math.max(1, windows);
  for (const sums of [powers.left, powers.right, powers.crossRe, powers.crossIm])
    for (let k = 0; k <= size / 2; k++) sums[k] *= share;
  return { spectrum: { sampleRate, windows, ...powers }, apart };
}

/**
 * How much of a cross spectrum is in phase once each bin is turned by so many radians more than the one before, from bin `first` to the one before `end`.
 * Turned step by step, as sines would take longer than all else.
 */
export function inPhase(
  { crossRe, crossIm }: Pick<CrossPowers, 'crossRe' | 'crossIm'>,
  radiansABin: number,
  first: number,
  end: number,
): number {
  const stepCos = Math.cos(radiansABin);
  const stepSin = Math.sin(radiansABin);
  let cos = Math.cos(first * radiansABin);
  let sin = Math.sin(first * radiansABin);
  let sum = 0;
  for (let k = first; k < end; k++) {
    sum += crossRe[k] * cos - crossIm[k] * sin;
    const next = cos * stepCos - sin * stepSin;
    sin = sin * stepCos + cos * stepSin;
    cos = next;
  }
  return sum;
}

/** Magnitude-squared coherence of each bin, 0..1. */
export function coherence(spectrum: CrossSpectrum): Float64Array {
  return spectrum.left.map((_, k) => coherenceAt(spectrum, k));
}

function coherenceAt({ left, right, crossRe, crossIm }: CrossSpectrum, k: number): number {
  const scale = left[k] * right[k];
  return scale > 0 ? Math.min(1, (crossRe[k] * crossRe[k] + crossIm[k] * crossIm[k]) / scale) : 0;
}

/** What no filter can bring into agreement, as a share of the power (0..1): 1 - coherence, weighted by the power of both sides. */
export function incoherentShare(spectrum: CrossSpectrum, fromHz = 0, belowHz = Infinity): number {
  const { left, right, sampleRate } = spectrum;
  const bins = left.length;
  const binHz = sampleRate / (2 * (bins - 1));
  const end = Math.min(bins, belowHz / binHz);
  let apart = 0;
  let total = 0;
  for (let k = Math.max(1, Math.ceil(fromHz / binHz)); k < end; k++) {
    const weight = Math.sqrt(left[k] * right[k]);
    apart += weight * (1 - coherenceAt(spectrum, k));
    total += weight;
  }
  return total > 0 ? apart / total : 1;
}

/** What noise of their own alone makes of that, with as much of it as pauses have: of either side, the share of its power that is noise. */
export function noiseShare({ left, right }: CrossSpectrum, noise: CrossSpectrum): number {
  let share = 0;
  let total = 0;
  for (let k = 1; k < left.length; k++) {
    const weight = Math.sqrt(left[k] * right[k]);
    if (weight === 0) continue;
    share += weight * Math.min(1, noise.left[k] / left[k] + noise.right[k] / right[k]);
    total += weight;
  }
  return total > 0 ? share / total : 0;
}

/**
 * How much of left minus right can be foretold from left plus right, 0..1 (coherence, weighted by the power of the difference). Coders' and
 * preamplifiers' noise is new on each side; instruments that are not quite in the middle stand in both.
 * With S = L + R and D = L - R: E(SD*) = LL - RR - 2i Im(LR*).
 */
export function differenceCoherence(
  { left, right, crossRe, crossIm, sampleRate }: CrossSpectrum,
  belowHz: number,
): number {
  const end = Math.min(left.length, (belowHz * 2 * (left.length - 1)) / sampleRate);
  let foretold = 0;
  let total = 0;
  for (let k = 1; k < end; k++) {
    const sum = left[k] + right[k] + 2 * crossRe[k];
    const difference = Math.max(0, left[k] + right[k] - 2 * crossRe[k]);
    if (sum <= 0 || difference <= 0) continue;
    foretold += Math.min(difference, ((left[k] - right[k]) ** 2 + 4 * crossIm[k] ** 2) / sum);
    total += difference;
  }
  return total > 0 ? foretold / total : 0;
}
