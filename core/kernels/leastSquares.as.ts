// The normal equations of a short filter: sums of products at many lags, and their solution.
// Held to the plain sums in leastSquares.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fused, lessFused } from './fused.as';

/**
 * Adds the sums over n of a[n] * b[n + j] to out[j], for j = 0 up to `lags` (a multiple of sixteen).
 * b must reach `lags` values past a's end. Sixteen sums at a time keep the adders busy.
 */
export function addLagProducts(a: usize, b: usize, count: u32, lags: u32, out: usize): void {
  for (let j: u32 = 0; j < lags; j += 16) {
    let s0 = f64x2.splat(0);
    let s1 = f64x2.splat(0);
    let s2 = f64x2.splat(0);
    let s3 = f64x2.splat(0);
    let s4 = f64x2.splat(0);
    let s5 = f64x2.splat(0);
    let s6 = f64x2.splat(0);
    let s7 = f64x2.splat(0);
    let at = a;
    let beside = b + (usize(j) << 3);
    const end = a + (usize(count) << 3);
    for (; at < end; at += 8, beside += 8) {
      const x = v128.load64_splat(at);
      s0 = fused(x, v128.load(beside), s0);
      s1 = fused(x, v128.load(beside, 16), s1);
      s2 = fused(x, v128.load(beside, 32), s2);
      s3 = fused(x, v128.load(beside, 48), s3);
      s4 = fused(x, v128.load(beside, 64), s4);
      s5 = fused(x, v128.load(beside, 80), s5);
      s6 = fused(x, v128.load(beside, 96), s6);
      s7 = fused(x, v128.load(beside, 112), s7);
    }
    const sums = out + (usize(j) << 3);
    v128.store(sums, f64x2.add(v128.load(sums), s0));
    v128.store(sums, f64x2.add(v128.load(sums, 16), s1), 16);
    v128.store(sums, f64x2.add(v128.load(sums, 32), s2), 32);
    v128.store(sums, f64x2.add(v128.load(sums, 48), s3), 48);
    v128.store(sums, f64x2.add(v128.load(sums, 64), s4), 64);
    v128.store(sums, f64x2.add(v128.load(sums, 80), s5), 80);
    v128.store(sums, f64x2.add(v128.load(sums, 96), s6), 96);
    v128.store(sums, f64x2.add(v128.load(sums, 112), s7), 112);
  }
}

/**
 * Fills the upper triangle of a square matrix with the sums, over all examples and n, of x[n + i] * x[n + j]: row 0 is given by `row`, each next row follows
 * from the one before by what enters and leaves at the ends of every example. `edges` has, for each of the `examples`, x from its start on and then x from its
 * end on, `edge` values of either (eight more than `size`). `row` is overwritten; so may be eight values past the matrix.
 */
export function fillProductMatrix(row: usize, edges: usize, edge: u32, examples: u32, size: u32, matrix: usize): void {
  const half = usize(edge) << 3;
  const last = edges + usize(examples) * 2 * half;
  for (let i: u32 = 0; i < size; i++) {
    // What reaches over the row's end is overwritten by the rows below it.
    const cells = matrix + (usize(i * size + i) << 3);
    const place = usize(i) << 3;
    const width = usize(size - i) << 3;
    for (let across: usize = 0; across < width; across += 64) {
      let s0 = v128.load(row + across);
      let s1 = v128.load(row + across, 16);
      let s2 = v128.load(row + across, 32);
      let s3 = v128.load(row + across, 48);
      v128.store(cells + across, s0);
      v128.store(cells + across, s1, 16);
      v128.store(cells + across, s2, 32);
      v128.store(cells + across, s3, 48);
      for (let start = edges + place; start < last; start += 2 * half) {
        const end = start + half;
        const leaving = v128.load64_splat(start);
        const entering = v128.load64_splat(end);
        const from = start + across;
        const to = end + across;
        s0 = fused(entering, v128.load(to), lessFused(leaving, v128.load(from), s0));
        s1 = fused(entering, v128.load(to, 16), lessFused(leaving, v128.load(from, 16), s1));
        s2 = fused(entering, v128.load(to, 32), lessFused(leaving, v128.load(from, 32), s2));
        s3 = fused(entering, v128.load(to, 48), lessFused(leaving, v128.load(from, 48), s3));
      }
      v128.store(row + across, s0);
      v128.store(row + across, s1, 16);
      v128.store(row + across, s2, 32);
      v128.store(row + across, s3, 48);
    }
  }
}

/**
 * Solves the symmetric system whose upper triangle is in `matrix` (row-major), by Cholesky's decomposition.
 * The solution replaces `right`; the lower triangle and the diagonal are overwritten. Row i of the lower triangle is
 * kept in row i of `lower`, whose rows start on even values.
 */
export function solve(matrix: usize, lower: usize, right: usize, size: u32): void {
  const rowBytes = usize((size + 1) & ~1) << 3;
  for (let i: u32 = 0; i < size; i++) {
    const row = lower + usize(i) * rowBytes;
    for (let j: u32 = 0; j <= i; j++) {
      const other = lower + usize(j) * rowBytes;
      let s0 = f64x2.splat(0);
      let s1 = f64x2.splat(0);
      let s2 = f64x2.splat(0);
      let s3 = f64x2.splat(0);
      let k: u32 = 0;
      for (; k + 8 <= j; k += 8) {
        const a = row + (usize(k) << 3);
        const b = other + (usize(k) << 3);
        s0 = fused(v128.load(a), v128.load(b), s0);
        s1 = fused(v128.load(a, 16), v128.load(b, 16), s1);
        s2 = fused(v128.load(a, 32), v128.load(b, 32), s2);
        s3 = fused(v128.load(a, 48), v128.load(b, 48), s3);
      }
      s0 = f64x2.add(f64x2.add(s0, s1), f64x2.add(s2, s3));
      let sum = f64x2.extract_lane(s0, 0) + f64x2.extract_lane(s0, 1);
      for (; k < j; k++) sum += load<f64>(row + (usize(k) << 3)) * load<f64>(other + (usize(k) << 3));
      const value = load<f64>(matrix + (usize(j) * usize(size) + usize(i) << 3)) - sum;
      const diagonal = load<f64>(other + (usize(j) << 3));
      store<f64>(row + (usize(j) << 3), i == j ? Math.sqrt(Math.max(value, 1e-300)) : value / diagonal);
    }
  }
  for (let i: u32 = 0; i < size; i++) {
    const row = lower + usize(i) * rowBytes;
    let value = load<f64>(right + (usize(i) << 3));
    for (let k: u32 = 0; k < i; k++) value -= load<f64>(row + (usize(k) << 3)) * load<f64>(right + (usize(k) << 3));
    store<f64>(right + (usize(i) << 3), value / load<f64>(row + (usize(i) << 3)));
  }
  for (let i: i32 = i32(size) - 1; i >= 0; i--) {
    const row = lower + usize(i) * rowBytes;
    const value = load<f64>(right + (usize(i) << 3)) / load<f64>(row + (usize(i) << 3));
    store<f64>(right + (usize(i) << 3), value);
    for (let k: i32 = 0; k < i; k++) {
      const at = right + (usize(k) << 3);
      store<f64>(at, load<f64>(at) - load<f64>(row + (usize(k) << 3)) * value);
    }
  }
}

/**
 * Sum of squares of target[n] minus the filter's prediction from source[n] on. Eight predictions are made at a time: source
 * must reach `taps` + 8 values past the target's end.
 */
export function residualSquares(source: usize, target: usize, count: u32, filter: usize, taps: u32): f64 {
  let squares: f64 = 0;
  for (let n: u32 = 0; n < count; n += 8) {
    let s0 = f64x2.splat(0);
    let s1 = f64x2.splat(0);
    let s2 = f64x2.splat(0);
    let s3 = f64x2.splat(0);
    let from = source + (usize(n) << 3);
    for (let i: u32 = 0; i < taps; i++, from += 8) {
      const tap = v128.load64_splat(filter + (usize(i) << 3));
      s0 = fused(tap, v128.load(from), s0);
      s1 = fused(tap, v128.load(from, 16), s1);
      s2 = fused(tap, v128.load(from, 32), s2);
      s3 = fused(tap, v128.load(from, 48), s3);
    }
    squares += squareOf(s0, target, n, count) + squareOf(s1, target, n + 2, count) + squareOf(s2, target, n + 4, count) + squareOf(s3, target, n + 6, count);
  }
  return squares;
}

/** What two predictions leave of the target, squared; nothing past its end. */
// @ts-ignore: decorator
@inline
function squareOf(predicted: v128, target: usize, n: u32, count: u32): f64 {
  if (n >= count) return 0;
  const first = load<f64>(target + (usize(n) << 3)) - f64x2.extract_lane(predicted, 0);
  if (n + 1 >= count) return first * first;
  const second = load<f64>(target + (usize(n + 1) << 3)) - f64x2.extract_lane(predicted, 1);
  return first * first + second * second;
}
