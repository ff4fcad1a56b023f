// Half the sample rate, by a filter that is the same on both sides of its middle. Held to the plain sum in rateHalver.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fused } from './fused.as';

/**
 * out[i] = weights[0] x[2i] + the sum over k from 1 to 2 `pairs` of weights[k] (x[2i - k] + x[2i + k]), for i = 0 up to `count` (a multiple of four).
 * `samples` is x[0], with 2 `pairs` values before it and after 2 `count`. `evens` and `odds` have room for every second of all of them.
 */
export function halve(
  samples: usize,
  count: u32,
  weights: usize,
  pairs: u32,
  evens: usize,
  odds: usize,
  out: usize,
): void {
  const first = samples - (usize(pairs) << 4);
  const values = count + 2 * pairs;
  for (let j: u32 = 0; j < values; j += 2) {
    const one = v128.load(first + (usize(j) << 4));
    const other = v128.load(first + (usize(j) << 4), 16);
    v128.store(evens + (usize(j) << 3), v128.shuffle<i64>(one, other, 0, 2));
    v128.store(odds + (usize(j) << 3), v128.shuffle<i64>(one, other, 1, 3));
  }
  // x[2m] and x[2m + 1] are so much further on.
  const zero = usize(pairs) << 3;
  const middle = v128.load64_splat(weights);
  for (let i: u32 = 0; i < count; i += 4) {
    const place = zero + (usize(i) << 3);
    let s0 = f64x2.mul(middle, v128.load(evens + place));
    let s1 = f64x2.mul(middle, v128.load(evens + place, 16));
    let before = place - 8;
    let after = place;
    for (let k: u32 = 0; k < pairs; k++) {
      const weight = v128.load64_splat(weights + (usize(k) << 4), 8);
      s0 = fused(weight, f64x2.add(v128.load(odds + before), v128.load(odds + after)), s0);
      s1 = fused(weight, f64x2.add(v128.load(odds + before, 16), v128.load(odds + after, 16)), s1);
      after += 8;
      const weightBeside = v128.load64_splat(weights + (usize(k) << 4), 16);
      s0 = fused(weightBeside, f64x2.add(v128.load(evens + before), v128.load(evens + after)), s0);
      s1 = fused(weightBeside, f64x2.add(v128.load(evens + before, 16), v128.load(evens + after, 16)), s1);
      before -= 8;
    }
    v128.store(out + (usize(i) << 3), s0);
    v128.store(out + (usize(i) << 3), s1, 16);
  }
}
