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

/** The first step of `transform`, of which each turn is for one value of each quarter: what the others do for a run of values would mostly be their heads. */
// @ts-ignore: decorator
@inline
function firstStep(from: usize, to: usize, twiddles: usize, quarter: u32): void {
  const sign = f64x2(-1, 1);
  const quarterBytes = usize(quarter) << 4;
  let second = twiddles;
  let third = twiddles;
  const end = from + quarterBytes;
  for (let turn = twiddles; from < end; from += 16, to += 64, turn += 16, second += 32, third += 48) {
    const a = v128.load(from);
    const b = v128.load(from + quarterBytes);
    const c = v128.load(from + 2 * quarterBytes);
    const d = v128.load(from + 3 * quarterBytes);
    const evenSum = f64x2.add(a, c);
    const evenDifference = f64x2.sub(a, c);
    const oddSum = f64x2.add(b, d);
    const odd = f64x2.sub(b, d);
    const turned = f64x2.mul(v128.shuffle<f64>(odd, odd, 1, 0), sign);
    v128.store(to, f64x2.add(evenSum, oddSum));
    v128.store(to, turnedBy(f64x2.sub(evenDifference, turned), v128.load(turn), sign), 16);
    v128.store(to, turnedBy(f64x2.sub(evenSum, oddSum), v128.load(second), sign), 32);
    v128.store(to, turnedBy(f64x2.add(evenDifference, turned), v128.load(third), sign), 48);
  }
}

/** Two complex values' product. */
// @ts-ignore: decorator
@inline
function turnedBy(a: v128, w: v128, sign: v128): v128 {
  return times(a, v128.shuffle<f64>(w, w, 0, 0), f64x2.mul(v128.shuffle<f64>(w, w, 1, 1), sign));
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
  if (size > 4) {
    firstStep(x, y, twiddles, size >> 2);
    from = y;
    to = x;
    length = size >> 2;
    stride = 4;
  }
  while (length > 4) {
    const quarter = length >> 2;
    const quarterBytes = usize(stride * quarter) << 4;
    const step = usize(stride) << 4;
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
      let out = at(to, 4 * turn);
      const end = out + step;
      // One place for each quarter, that moves on: to work it out anew takes as long as what is done there.
      let first = at(from, turn);
      let third = first + 2 * quarterBytes;
      for (; out < end; out += 16, first += 16, third += 16) {
        const a = v128.load(first);
        const b = v128.load(first + quarterBytes);
        const c = v128.load(third);
        const d = v128.load(third + quarterBytes);
        const evenSum = f64x2.add(a, c);
        const evenDifference = f64x2.sub(a, c);
        const oddSum = f64x2.add(b, d);
        const odd = f64x2.sub(b, d);
        // i times (b - d).
        const turned = f64x2.mul(v128.shuffle<f64>(odd, odd, 1, 0), sign);
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
  if (length == 4) {
    // The last step turns nothing.
    const step = usize(stride) << 4;
    const end = from + step;
    for (let first = from, out = to; first < end; first += 16, out += 16) {
      const a = v128.load(first);
      const b = v128.load(first + step);
      const c = v128.load(first + 2 * step);
      const d = v128.load(first + 3 * step);
      const evenSum = f64x2.add(a, c);
      const evenDifference = f64x2.sub(a, c);
      const oddSum = f64x2.add(b, d);
      const odd = f64x2.sub(b, d);
      const turned = f64x2.mul(v128.shuffle<f64>(odd, odd, 1, 0), sign);
      v128.store(out, f64x2.add(evenSum, oddSum));
      v128.store(out + step, f64x2.sub(evenDifference, turned));
      v128.store(out + 2 * step, f64x2.sub(evenSum, oddSum));
      v128.store(out + 3 * step, f64x2.add(evenDifference, turned));
    }
    return to;
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

/** Takes two woven signals apart again, of which the second is upside down. */
export function unweave(woven: usize, left: usize, right: usize, count: u32): void {
  const end = left + (usize(count) << 3);
  for (; left < end; left += 8, right += 8, woven += 16) {
    store<f64>(left, load<f64>(woven));
    store<f64>(right, -load<f64>(woven, 8));
  }
}

/**
 * Adds neighbouring bins of a real signal's spectrum, from `first` on, and what mirrors them to the conjugate of a spectrum of `size` bins at `x`: as they
 * are, or times i where they are those of the second of two signals that travel in one.
 */
export function addBins(re: usize, im: usize, first: u32, count: u32, size: u32, isSecond: bool, x: usize): void {
  const scale = 1.0 / <f64>size;
  for (let k = first; k < first + count; k++, re += 8, im += 8) {
    const mirrored = (size - k) & (size - 1);
    const real = scale * load<f64>(re);
    // Of what has no mirror the imaginary part is none.
    const imaginary = mirrored == k ? 0.0 : scale * load<f64>(im);
    const place = at(x, k);
    const turned = f64x2.replace_lane(f64x2.splat(-imaginary), 1, -real);
    const upright = f64x2.replace_lane(f64x2.splat(real), 1, -imaginary);
    v128.store(place, f64x2.add(v128.load(place), isSecond ? turned : upright));
    if (mirrored == k) continue;
    const beyond = at(x, mirrored);
    const turnedBeyond = f64x2.replace_lane(f64x2.splat(imaginary), 1, -real);
    const uprightBeyond = f64x2.replace_lane(f64x2.splat(real), 1, imaginary);
    v128.store(beyond, f64x2.add(v128.load(beyond), isSecond ? turnedBeyond : uprightBeyond));
  }
}

/**
 * Takes the bins from `first` to `last` of two woven real signals' spectrum apart by its symmetry, two at a time, and adds to four series of size / 2 + 2
 * bins, one after the other at `sums`: the power of the left, of the right, and the product of the left's conjugate with the right. Of an odd number the bin
 * after the last is added to as well.
 */
export function addCrossPowers(spectrum: usize, size: u32, first: u32, last: u32, sums: usize): void {
  const series = usize((size >> 1) + 2) << 3;
  const half = f64x2.splat(0.5);
  for (let k = first; k <= last; k += 2) {
    const one = v128.load(at(spectrum, k));
    const next = v128.load(at(spectrum, k + 1));
    const mirrored = v128.load(at(spectrum, (size - k) & (size - 1)));
    const mirroredNext = v128.load(at(spectrum, size - k - 1));
    const re = v128.shuffle<f64>(one, next, 0, 2);
    const im = v128.shuffle<f64>(one, next, 1, 3);
    const mirroredRe = v128.shuffle<f64>(mirrored, mirroredNext, 0, 2);
    const mirroredIm = v128.shuffle<f64>(mirrored, mirroredNext, 1, 3);
    const leftRe = f64x2.mul(f64x2.add(re, mirroredRe), half);
    const leftIm = f64x2.mul(f64x2.sub(im, mirroredIm), half);
    const rightRe = f64x2.mul(f64x2.add(im, mirroredIm), half);
    const rightIm = f64x2.mul(f64x2.sub(mirroredRe, re), half);
    let sum = sums + (usize(k) << 3);
    v128.store(sum, f64x2.add(v128.load(sum), f64x2.add(f64x2.mul(leftRe, leftRe), f64x2.mul(leftIm, leftIm))));
    sum += series;
    v128.store(sum, f64x2.add(v128.load(sum), f64x2.add(f64x2.mul(rightRe, rightRe), f64x2.mul(rightIm, rightIm))));
    sum += series;
    v128.store(sum, f64x2.add(v128.load(sum), f64x2.add(f64x2.mul(leftRe, rightRe), f64x2.mul(leftIm, rightIm))));
    sum += series;
    v128.store(sum, f64x2.add(v128.load(sum), f64x2.sub(f64x2.mul(leftRe, rightIm), f64x2.mul(leftIm, rightRe))));
  }
}

/**
 * Moves the four series at `sums` to those at `totals`, to which they are added. Returns what of them no filter brings into agreement: 1 less the coherence of
 * each bin but the first, weighted by the power of both sides; 1 where there is none.
 */
export function gather(sums: usize, totals: usize, size: u32): f64 {
  const series = usize((size >> 1) + 2) << 3;
  const nothing = f64x2.splat(0);
  const one = f64x2.splat(1);
  let apart = nothing;
  let weights = nothing;
  for (let place: usize = 0; place < series; place += 16) {
    const from = sums + place;
    const to = totals + place;
    const left = v128.load(from);
    const right = v128.load(from + series);
    const re = v128.load(from + 2 * series);
    const im = v128.load(from + 3 * series);
    v128.store(to, f64x2.add(v128.load(to), left));
    v128.store(to + series, f64x2.add(v128.load(to + series), right));
    v128.store(to + 2 * series, f64x2.add(v128.load(to + 2 * series), re));
    v128.store(to + 3 * series, f64x2.add(v128.load(to + 3 * series), im));
    v128.store(from, nothing);
    v128.store(from + series, nothing);
    v128.store(from + 2 * series, nothing);
    v128.store(from + 3 * series, nothing);
    const powers = f64x2.mul(left, right);
    const both = f64x2.add(f64x2.mul(re, re), f64x2.mul(im, im));
    const coherence = v128.and(f64x2.pmin(f64x2.div(both, powers), one), f64x2.gt(powers, nothing));
    let weight = f64x2.sqrt(powers);
    if (place === 0) weight = f64x2.replace_lane(weight, 0, 0);
    // Beyond half the rate there is no bin.
    if (place === series - 16) weight = f64x2.replace_lane(weight, 1, 0);
    weights = f64x2.add(weights, weight);
    apart = f64x2.add(apart, f64x2.mul(weight, f64x2.sub(one, coherence)));
  }
  const weight = f64x2.extract_lane(weights, 0) + f64x2.extract_lane(weights, 1);
  return weight > 0 ? (f64x2.extract_lane(apart, 0) + f64x2.extract_lane(apart, 1)) / weight : 1;
}

/**
 * Brings the magnitudes of `count` bins, two at a time (over the end too), nearly to 1, by their power of -7/8 (three roots), and all of them together to `total`.
 * What is 0 stays so.
 */
export function whiten(re: usize, im: usize, count: u32, total: f64): void {
  const nothing = f64x2.splat(0);
  const one = f64x2.splat(1);
  let sums = nothing;
  const end = usize(count) << 3;
  for (let at: usize = 0; at < end; at += 16) {
    const real = v128.load(re + at);
    const imaginary = v128.load(im + at);
    const magnitude = f64x2.sqrt(f64x2.add(f64x2.mul(real, real), f64x2.mul(imaginary, imaginary)));
    const half = f64x2.sqrt(magnitude);
    const quarter = f64x2.sqrt(half);
    const whitened = f64x2.div(one, f64x2.mul(f64x2.mul(half, quarter), f64x2.sqrt(quarter)));
    const factor = v128.and(whitened, f64x2.gt(magnitude, nothing));
    v128.store(re + at, f64x2.mul(real, factor));
    v128.store(im + at, f64x2.mul(imaginary, factor));
    sums = f64x2.add(sums, f64x2.mul(magnitude, factor));
  }
  const weight = f64x2.extract_lane(sums, 0) + f64x2.extract_lane(sums, 1);
  const scale = f64x2.splat(weight > 0 ? total / weight : 0);
  for (let at: usize = 0; at < end; at += 16) {
    v128.store(re + at, f64x2.mul(v128.load(re + at), scale));
    v128.store(im + at, f64x2.mul(v128.load(im + at), scale));
  }
}
