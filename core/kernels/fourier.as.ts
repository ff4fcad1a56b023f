// Fourier transforms of complex signals, and the powers of two real signals that travel in one.
// Values are complex: re, im, re, im, ... Held to the plain sums in fourier.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fused } from './fused.as';

// @ts-ignore: decorator
@inline
function at(base: usize, index: u32): usize {
  return base + (usize(index) << 4);
}

/** (a.re + i a.im) times a factor given as both its real parts, and its imaginary part as (-im, im). */
// @ts-ignore: decorator
@inline
function times(a: v128, re: v128, im: v128): v128 {
  return fused(a, re, f64x2.mul(v128.shuffle<f64>(a, a, 1, 0), im));
}

/**
 * Forward transform of `size` values (a power of two, at least 4) at `x`; `y` is room of the same length. Stockham's
 * order: no bit reversal (W. T. Cochran et al., "What is the fast Fourier transform?", 1967), in steps of four.
 * @param twiddles exp(-2 pi i k / size) for k = 0 up to size - 1
 * @returns where the spectrum is: x or y
 */
export function transform(x: usize, y: usize, twiddles: usize, size: u32): usize {
  const sign = f64x2(-1, 1);
  let from = x;
  let to = y;
  let length = size;
  let stride: u32 = 1;
  while (length >= 4) {
    const quarter = length >> 2;
    for (let p: u32 = 0; p < quarter; p++) {
      const turn = p * stride;
      const w1 = v128.load(at(twiddles, turn));
      const w2 = v128.load(at(twiddles, 2 * turn));
      const w3 = v128.load(at(twiddles, 3 * turn));
      const re1 = v128.shuffle<f64>(w1, w1, 0, 0);
      const im1 = f64x2.mul(v128.shuffle<f64>(w1, w1, 1, 1), sign);
      const re2 = v128.shuffle<f64>(w2, w2, 0, 0);
      const im2 = f64x2.mul(v128.shuffle<f64>(w2, w2, 1, 1), sign);
      const re3 = v128.shuffle<f64>(w3, w3, 0, 0);
      const im3 = f64x2.mul(v128.shuffle<f64>(w3, w3, 1, 1), sign);
      for (let q: u32 = 0; q < stride; q++) {
        const a = v128.load(at(from, q + stride * p));
        const b = v128.load(at(from, q + stride * (p + quarter)));
        const c = v128.load(at(from, q + stride * (p + 2 * quarter)));
        const d = v128.load(at(from, q + stride * (p + 3 * quarter)));
        const evenSum = f64x2.add(a, c);
        const evenDifference = f64x2.sub(a, c);
        const oddSum = f64x2.add(b, d);
        const odd = f64x2.sub(b, d);
        // i times (b - d).
        const turned = f64x2.mul(v128.shuffle<f64>(odd, odd, 1, 0), sign);
        const out = at(to, q + stride * 4 * p);
        const step = usize(stride) << 4;
        v128.store(out, f64x2.add(evenSum, oddSum));
        v128.store(out + step, times(f64x2.sub(evenDifference, turned), re1, im1));
        v128.store(out + 2 * step, times(f64x2.sub(evenSum, oddSum), re2, im2));
        v128.store(out + 3 * step, times(f64x2.add(evenDifference, turned), re3, im3));
      }
    }
    length >>= 2;
    stride <<= 2;
    const old = from;
    from = to;
    to = old;
  }
  if (length == 2) {
    for (let q: u32 = 0; q < stride; q++) {
      const a = v128.load(at(from, q));
      const b = v128.load(at(from, q + stride));
      v128.store(at(to, q), f64x2.add(a, b));
      v128.store(at(to, q + stride), f64x2.sub(a, b));
    }
    return to;
  }
  return from;
}

/** Fills `out` with two real signals as real and imaginary part, each sample weighted by a window. */
export function weave(left: usize, right: usize, window: usize, size: u32, out: usize): void {
  for (let i: u32 = 0; i < size; i++) {
    const place = usize(i) << 3;
    const both = f64x2.replace_lane(v128.load64_splat(left + place), 1, load<f64>(right + place));
    v128.store(at(out, i), f64x2.mul(both, v128.load64_splat(window + place)));
  }
}

/**
 * Takes the spectrum of two woven real signals apart by its symmetry, and adds to four series of size / 2 + 1 bins, one after
 * the other at `sums`: the power of the left, of the right, and the product of the left's conjugate with the right.
 */
export function addCrossPowers(spectrum: usize, size: u32, sums: usize): void {
  const bins = usize((size >> 1) + 1) << 3;
  for (let k: u32 = 0; k <= size >> 1; k++) {
    const value = at(spectrum, k);
    const mirrored = at(spectrum, (size - k) & (size - 1));
    const leftRe = (load<f64>(value) + load<f64>(mirrored)) * 0.5;
    const leftIm = (load<f64>(value, 8) - load<f64>(mirrored, 8)) * 0.5;
    const rightRe = (load<f64>(value, 8) + load<f64>(mirrored, 8)) * 0.5;
    const rightIm = (load<f64>(mirrored) - load<f64>(value)) * 0.5;
    let sum = sums + (usize(k) << 3);
    store<f64>(sum, load<f64>(sum) + leftRe * leftRe + leftIm * leftIm);
    sum += bins;
    store<f64>(sum, load<f64>(sum) + rightRe * rightRe + rightIm * rightIm);
    sum += bins;
    store<f64>(sum, load<f64>(sum) + leftRe * rightRe + leftIm * rightIm);
    sum += bins;
    store<f64>(sum, load<f64>(sum) + leftRe * rightIm - leftIm * rightRe);
  }
}
