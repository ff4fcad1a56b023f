/** Coefficients of a second-order section, normalised so that a0 = 1. */
export interface BiquadCoefficients {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

/**
 * Second-order high-pass or low-pass by the bilinear transform
 * (R. Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter coefficients").
 */
export function passFilter(
  kind: 'high-pass' | 'low-pass',
  frequencyHz: number,
  q: number,
  sampleRate: number,
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
