import type { BiquadCoefficients } from '../signal/biquad.ts';

// Below this a state value is inaudible and only slows the processor down (denormals).
const STATE_FLOOR = 1e-30;

/** Two second-order sections in a row (transposed direct form II) that only report their output's energy. */
export class FilterChain {
  private s1 = 0;
  private s2 = 0;
  private t1 = 0;
  private t2 = 0;

  constructor(private readonly first: BiquadCoefficients, private readonly second: BiquadCoefficients) {}

  /** Sum of squares of the filtered samples from `start` up to `end`. */
  energy(samples: Float64Array, start: number, end: number): number {
    const { b0, b1, b2, a1, a2 } = this.first;
    const { b0: c0, b1: c1, b2: c2, a1: d1, a2: d2 } = this.second;
    let { s1, s2, t1, t2 } = this;
    let energy = 0;
    for (let i = start; i < end; i++) {
      const x = samples[i];
      const y = b0 * x + s1;
      s1 = b1 * x - a1 * y + s2;
      s2 = b2 * x - a2 * y;
      const z = c0 * y + t1;
      t1 = c1 * y - d1 * z + t2;
      t2 = c2 * y - d2 * z;
      energy += z * z;
    }
    this.s1 = settle(s1);
    this.s2 = settle(s2);
    this.t1 = settle(t1);
    this.t2 = settle(t2);
    return energy;
  }
}

function settle(state: number): number {
  return Math.abs(state) < STATE_FLOOR ? 0 : state;
}
