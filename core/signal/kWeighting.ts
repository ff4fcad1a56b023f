import type { BiquadCoefficients } from './biquad.ts';

// The two analogue prototypes behind the 48 kHz coefficients printed in
// ITU-R BS.1770-5, annex 1, tables 1 and 2. Mapping them again by the bilinear
// transform gives the same curve at any rate, and those tables at 48 kHz.
const SHELF_HZ = 1681.974450955533;
const SHELF_GAIN_DB = 3.999843853973347;
const SHELF_Q = 0.7071752369554196;
const HIGH_PASS_HZ = 38.13547087602444;
const HIGH_PASS_Q = 0.5003270373238773;

/**
 * The K-weighting of BS.1770-5, annex 1: a head shelf, then a high-pass.
 * @param sampleRate in Hz, 8000 or more
 */
export function kWeighting(sampleRate: number): [BiquadCoefficients, BiquadCoefficients] {
  return [shelf(sampleRate), highPass(sampleRate)];
}

function shelf(sampleRate: number): BiquadCoefficients {
  const k = Math.tan((Math.PI * SHELF_HZ) / sampleRate);
  const high = 10 ** (SHELF_GAIN_DB / 20);
  const band = high ** 0.4996667741545416;
  const a0 = 1 + k / SHELF_Q + k * k;
  return {
    b0: (high + (band * k) / SHELF_Q + k * k) / a0,
    b1: (2 * (k * k - high)) / a0,
    b2: (high - (band * k) / SHELF_Q + k * k) / a0,
    a1: (2 * (k * k - 1)) / a0,
    a2: (1 - k / SHELF_Q + k * k) / a0,
  };
}

function highPass(sampleRate: number): BiquadCoefficients {
  const k = Math.tan((Math.PI * HIGH_PASS_HZ) / sampleRate);
  const a0 = 1 + k / HIGH_PASS_Q + k * k;
  return {
    b0: 1,
    b1: -2,
    b2: 1,
    a1: (2 * (k * k - 1)) / a0,
    a2: (1 - k / HIGH_PASS_Q + k * k) / a0,
  };
}
