// Half the sample rate, by a filter that is the same on both sides of its middle. Held to the plain sum in rateHalver.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fusedSingles } from './fused.as';

/** Two pairs of values as four in single precision. */
// @ts-ignore: decorator
@inline
function singles(one: v128, other: v128): v128 {
  return v128.shuffle<i64>(f32x4.demote_f64x2_zero(one), f32x4.demote_f64x2_zero(other), 0, 2);
}

// @ts-ignore: decorator
@inline
function storeDoubles(to: usize, four: v128): void {
  v128.store(to, f64x2.promote_low_f32x4(four));
  v128.store(to, f64x2.promote_low_f32x4(v128.shuffle<i64>(four, four, 1, 1)), 16);
}

/**
 * out[i] = weights[0] x[2i] + the sum over k from 1 to 2 `pairs` of weights[k] (x[2i - k] + x[2i + k]), for i = 0 up to `count` (a multiple of eight).
 * In single precision, which holds words of 24 bits and takes half the time: what is rounded lies 140 dB under the sound. `samples` is x[0], with 2 `pairs`
 * (a multiple of four) values before it and after 2 `count`. `evens` and `odds` have room for every second of all of them, `weights` are single too.
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
  for (let j: u32 = 0; j < values; j += 4) {
    const from = first + (usize(j) << 4);
    const a = v128.load(from);
    const b = v128.load(from, 16);
    const c = v128.load(from, 32);
    const d = v128.load(from, 48);
    const to = usize(j) << 2;
    v128.store(evens + to, singles(v128.shuffle<i64>(a, b, 0, 2), v128.shuffle<i64>(c, d, 0, 2)));
    v128.store(odds + to, singles(v128.shuffle<i64>(a, b, 1, 3), v128.shuffle<i64>(c, d, 1, 3)));
  }
  // x[2m] and x[2m + 1] are so much further on.
  const zero = usize(pairs) << 2;
  const middle = v128.load32_splat(weights);
  for (let i: u32 = 0; i < count; i += 8) {
    const place = zero + (usize(i) << 2);
    let even0 = f32x4.mul(middle, v128.load(evens + place));
    let even1 = f32x4.mul(middle, v128.load(evens + place, 16));
    let odd0 = f32x4.splat(0);
    let odd1 = f32x4.splat(0);
    let before = place - 4;
    let after = place;
    let weight = weights;
    for (let k: u32 = 0; k < pairs; k++) {
      const odd = v128.load32_splat(weight, 4);
      odd0 = fusedSingles(odd, f32x4.add(v128.load(odds + before), v128.load(odds + after)), odd0);
      odd1 = fusedSingles(odd, f32x4.add(v128.load(odds + before, 16), v128.load(odds + after, 16)), odd1);
      after += 4;
      const even = v128.load32_splat(weight, 8);
      even0 = fusedSingles(even, f32x4.add(v128.load(evens + before), v128.load(evens + after)), even0);
      even1 = fusedSingles(even, f32x4.add(v128.load(evens + before, 16), v128.load(evens + after, 16)), even1);
      before -= 4;
      weight += 8;
    }
    const to = out + (usize(i) << 3);
    storeDoubles(to, f32x4.add(even0, odd0));
    storeDoubles(to + 32, f32x4.add(even1, odd1));
  }
}
