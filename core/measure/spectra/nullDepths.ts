import { sumsOfProducts } from '../../kernels/stretchSums.ts';
import { dbFromPower } from '../../signal/decibels.ts';
import { inPhase, type CrossSpectrum } from './crossSpectrum.ts';

/** Powers of both sides and their product, of the same sound. */
export interface SharedPowers {
  left: number;
  right: number;
  product: number;
}

// What the pauses hold is taken off. Noise is only known to a few hundredths of itself, so nothing falls below that share of it.
const NOISE_UNCERTAINTY = 0.03;

/** What is left after taking off the noise of the pauses. */
export function beyondNoise(power: number, noise: number): number {
  return Math.max(power - noise, NOISE_UNCERTAINTY * Math.min(noise, power));
}

/** Mean powers of both sides and their mean product, as they are. */
export function sharedPowers(left: Float64Array, right: Float64Array): SharedPowers {
  const sums = sumsOfProducts(left, right);
  const { length } = left;
  return { left: sums.left / length, right: sums.right / length, product: sums.both / length };
}

export function meanPowers(all: readonly SharedPowers[]): SharedPowers {
  const mean = (of: (powers: SharedPowers) => number): number =>
    all.reduce((sum, powers) => sum + of(powers), 0) / all.length;
  return { left: mean(({ left }) => left), right: mean(({ right }) => right), product: mean(({ product }) => product) };
}

/** The same at a fractional lag, from spectra. */
export function powersAt(spectrum: CrossSpectrum, lag: number, belowHz = Infinity): SharedPowers {
  const { left, right, sampleRate } = spectrum;
  const size = 2 * (left.length - 1);
  const end = Math.min(left.length, (belowHz * size) / sampleRate);
  const powers = { left: 0, right: 0, product: inPhase(spectrum, (2 * Math.PI * lag) / size, 1, end) };
  for (let k = 1; k < end; k++) {
    powers.left += left[k];
    powers.right += right[k];
  }
  return powers;
}

/** Right over left of what they share; negative where upside down. Between the two regressions, as both sides have noise. */
export function bestGain(powers: SharedPowers, noise: SharedPowers | null): number {
  const left = beyondNoise(powers.left, noise?.left ?? 0);
  const right = beyondNoise(powers.right, noise?.right ?? 0);
  return (Math.sign(powers.product - (noise?.product ?? 0)) || 1) * Math.sqrt(right / left);
}

/** Depth after the best gain of either sign: of R - gL relative to R + gL. */
export function nullDepth(powers: SharedPowers, noise: SharedPowers | null): number {
  const { left, right, product } = powers;
  if (left === 0 || right === 0) return 0;
  const gain = product / left;
  const residualOf = (of: SharedPowers): number =>
    Math.max(0, of.right - 2 * gain * of.product + gain * gain * of.left);
  const target = beyondNoise(right, noise?.right ?? 0);
  return depthFromResidual(beyondNoise(residualOf(powers), noise ? residualOf(noise) : 0) / target);
}

/** From what is left of a side, as a share of its power, to the depth of the null against the sum. */
export function depthFromResidual(share: number): number {
  const left = Math.max(share, 1e-15);
  return dbFromPower(left / (4 - 3 * Math.min(left, 1)));
}

export function plainRatio(powers: SharedPowers, noise: SharedPowers | null): number {
  const difference = ({ left, right, product }: SharedPowers): number => Math.max(0, left + right - 2 * product);
  const sum = ({ left, right, product }: SharedPowers): number => Math.max(0, left + right + 2 * product);
  const least = 1e-15 * (powers.left + powers.right);
  return (
    Math.max(least, beyondNoise(difference(powers), noise ? difference(noise) : 0)) /
    Math.max(least, beyondNoise(sum(powers), noise ? sum(noise) : 0))
  );
}
