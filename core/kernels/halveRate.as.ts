// Half the sample rate, by a filter whose edge is at a quarter of the rate: every second weight from the middle is zero, and
// the rest are the same on both sides of it. Held to the plain sum in rateHalver.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fused } from './fused.as';

/**
 * out[i] = x[2i] / 2 + the sum over k of weights[k] (x[2i - 2k - 1] + x[2i + 2k + 1]), for i = 0 up to `count` (a multiple of four).
 * `samples` is x[0], with 2 `taps` values before it and after 2 `count`. `odds` has room for every second of all of them.
 */
export function halve(samples: usize, count: u32, weights: usize, taps: u32, odds: usize, out: usize): void {
  const first = samples - (usize(taps) << 4);
  const odd = count + 2 * taps;
  for (let j: u32 = 0; j < odd; j += 2) {
    const at = first + (usize(j) << 4);
    v128.store(odds + (usize(j) << 3), v128.shuffle<i64>(v128.load(at), v128.load(at, 16), 1, 3));
  }
  // x[2m + 1] is at middle + 8 m.
  const middle = odds + (usize(taps) << 3);
  const half = f64x2.splat(0.5);
  for (let i: u32 = 0; i < count; i += 4) {
    const at = samples + (usize(i) << 4);
    let s0 = f64x2.mul(half, v128.shuffle<i64>(v128.load(at), v128.load(at, 16), 0, 2));
    let s1 = f64x2.mul(half, v128.shuffle<i64>(v128.load(at, 32), v128.load(at, 48), 0, 2));
    let before = middle + (usize(i) << 3) - 8;
    let after = before + 8;
    for (let k: u32 = 0; k < taps; k++) {
      const weight = v128.load64_splat(weights + (usize(k) << 3));
      s0 = fused(weight, f64x2.add(v128.load(before), v128.load(after)), s0);
      s1 = fused(weight, f64x2.add(v128.load(before, 16), v128.load(after, 16)), s1);
      before -= 8;
      after += 8;
    }
    v128.store(out + (usize(i) << 3), s0);
    v128.store(out + (usize(i) << 3), s1, 16);
  }
}
