/** Coefficients of a second-order section, normalised so that a0 = 1. */
export interface BiquadCoefficients {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

/** Magnitude of the section at a frequency, linear. Used to check filters against their standard. */
export function biquadMagnitude(c: BiquadCoefficients, frequencyHz: number, sampleRate: number): number {
  const w = (2 * Math.PI * frequencyHz) / sampleRate;
  const numeratorRe = c.b0 + c.b1 * Math.cos(w) + c.b2 * Math.cos(2 * w);
  const numeratorIm = c.b1 * Math.sin(w) + c.b2 * Math.sin(2 * w);
  const denominatorRe = 1 + c.a1 * Math.cos(w) + c.a2 * Math.cos(2 * w);
  const denominatorIm = c.a1 * Math.sin(w) + c.a2 * Math.sin(2 * w);
  return Math.hypot(numeratorRe, numeratorIm) / Math.hypot(denominatorRe, denominatorIm);
}

/**
 * Second-order high-pass or low-pass by the bilinear transform
 * (R. Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter coefficients").
 */
export function passFilter(
  kind: 'high-pass' | 'low-pass', frequencyHz: number, q: number, sampleRate: number,
): BiquadCoefficients {
  const w = (2 * Math.PI * frequencyHz) / sampleRate;
  const alpha = Math.sin(w) / (2 * q);
  const cos = Math.cos(w);
  const a0 = 1 + alpha;
  const edge = kind === 'high-pass' ? 1 + cos : 1 - cos;
  return {
    b0: edge / 2 / a0,
    b1: (kind === 'high-pass' ? -edge : edge) / a0,
    b2: edge / 2 / a0,
    a1: (-2 * cos) / a0,
    a2: (1 - alpha) / a0,
  };
}
