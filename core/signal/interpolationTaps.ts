export const HALF_TAPS = 32;
const KAISER_BETA = 10;

/**
 * A windowed sinc (Kaiser window: Oppenheim and Schafer, "Discrete-time signal processing", section 7.5.3), of 64 taps and beta 10 unless told otherwise.
 * Tap k weighs the sample k steps back; the delay is half of them - 1 + fraction. @param fraction over 0, under 1
 */
export function interpolationTaps(fraction: number, halfTaps = HALF_TAPS, beta = KAISER_BETA): Float64Array {
  const taps = new Float64Array(2 * halfTaps);
  const middle = besselI0(beta);
  for (let k = 0; k < taps.length; k++) {
    const x = k - (halfTaps - 1) - fraction;
    const sinc = Math.sin(Math.PI * x) / (Math.PI * x);
    const edge = x / halfTaps;
    taps[k] = Math.abs(edge) > 1 ? 0 : (sinc * besselI0(beta * Math.sqrt(1 - edge * edge))) / middle;
  }
  return taps;
}

/** Taps for the places between a sample and the next, in so many steps, each made once: row 0 is the sample itself, the last row the next one. */
export class TapTable {
  private readonly rows: (Float64Array | undefined)[] = [];

  constructor(
    readonly steps: number,
    private readonly halfTaps = HALF_TAPS,
    private readonly beta = KAISER_BETA,
  ) {}

  /** @param step from 0 to `steps` @returns weights of the samples from `halfTaps - 1` before the place's sample to `halfTaps` after it */
  at(step: number): Float64Array {
    return (this.rows[step] ??=
      step === 0 || step === this.steps
        ? this.unit(step === 0 ? 0 : 1)
        : interpolationTaps(step / this.steps, this.halfTaps, this.beta));
  }

  /** All rows, one after the other. */
  whole(): Float64Array {
    const taps = new Float64Array((this.steps + 1) * 2 * this.halfTaps);
    for (let step = 0; step <= this.steps; step++) taps.set(this.at(step), step * 2 * this.halfTaps);
    return taps;
  }

  private unit(samplesOn: number): Float64Array {
    const taps = new Float64Array(2 * this.halfTaps);
    taps[this.halfTaps - 1 + samplesOn] = 1;
    return taps;
  }
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
