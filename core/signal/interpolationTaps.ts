export const HALF_TAPS = 32;
const KAISER_BETA = 10;

/**
 * A windowed sinc of 64 taps (Kaiser window, beta 10: Oppenheim and Schafer, "Discrete-time signal processing", section 7.5.3).
 * Tap k weighs the sample k steps back; the delay is HALF_TAPS - 1 + fraction. @param fraction over 0, under 1
 */
export function interpolationTaps(fraction: number): Float64Array {
  const taps = new Float64Array(2 * HALF_TAPS);
  for (let k = 0; k < taps.length; k++) {
    const x = k - (HALF_TAPS - 1) - fraction;
    const sinc = Math.sin(Math.PI * x) / (Math.PI * x);
    const edge = x / HALF_TAPS;
    taps[k] =
      Math.abs(edge) > 1 ? 0 : (sinc * besselI0(KAISER_BETA * Math.sqrt(1 - edge * edge))) / besselI0(KAISER_BETA);
  }
  return taps;
}

/** Modified Bessel function of the first kind, order 0, by its power series. */
function besselI0(x: number): number {
  let term = 1;
  let sum = 1;
  for (let k = 1; term > sum * 1e-17; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}
