// A short filter slid over a sound: interpolation by parts of a sample. Held to the plain sum in tapSlider.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fused } from './fused.as';

/** out[i] = the sum over k of taps[k] x[i + k], for i = 0 up to `frames` (a multiple of eight). `samples` is x[0], with `count` values more than `frames`. */
export function slide(samples: usize, taps: usize, count: u32, frames: u32, out: usize): void {
  for (let i: u32 = 0; i < frames; i += 8) {
    let at = samples + (usize(i) << 3);
    let s0 = f64x2.splat(0);
    let s1 = f64x2.splat(0);
    let s2 = f64x2.splat(0);
    let s3 = f64x2.splat(0);
    for (let k: u32 = 0; k < count; k++) {
      const weight = v128.load64_splat(taps + (usize(k) << 3));
      s0 = fused(weight, v128.load(at), s0);
      s1 = fused(weight, v128.load(at, 16), s1);
      s2 = fused(weight, v128.load(at, 32), s2);
      s3 = fused(weight, v128.load(at, 48), s3);
      at += 8;
    }
    const to = out + (usize(i) << 3);
    v128.store(to, s0);
    v128.store(to, s1, 16);
    v128.store(to, s2, 32);
    v128.store(to, s3, 48);
  }
}
