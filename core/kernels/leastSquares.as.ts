// The normal equations of a short filter: sums of products at many lags, and their solution.
// Held to the plain sums in leastSquares.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { fused, lessFused } from './fused.as';

// What a pivot is held to where rounding leaves none.
const LEAST: f64 = 1e-300;

/** The sum of either's lanes. */
// @ts-ignore: decorator
@inline
function both(one: v128, other: v128): v128 {
  return f64x2.add(v128.shuffle<f64>(one, other, 0, 2), v128.shuffle<f64>(one, other, 1, 3));
}

/**
 * Adds the sums over n of a[n] * b[n + j] to out[j], for j = 0 up to `lags` (a multiple of eight). b must reach `lags` + 2 values past a's end.
 * Eight lags at a time keep the adders busy; two samples at a time, so that what is loaded for an even lag serves the odd one beside it.
 */
export function addLagProducts(a: usize, b: usize, count: u32, lags: u32, out: usize): void {
  const end = a + (usize(count & ~1) << 3);
  for (let j: u32 = 0; j < lags; j += 8) {
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
    for (; at < end; at += 16, beside += 16) {
      const x = v128.load(at);
      const b0 = v128.load(beside);
      const b2 = v128.load(beside, 16);
      s0 = fused(x, b0, s0);
      s1 = fused(x, v128.shuffle<f64>(b0, b2, 1, 2), s1);
      const b4 = v128.load(beside, 32);
      s2 = fused(x, b2, s2);
      s3 = fused(x, v128.shuffle<f64>(b2, b4, 1, 2), s3);
      const b6 = v128.load(beside, 48);
      s4 = fused(x, b4, s4);
      s5 = fused(x, v128.shuffle<f64>(b4, b6, 1, 2), s5);
      s6 = fused(x, b6, s6);
      s7 = fused(x, v128.shuffle<f64>(b6, v128.load(beside, 64), 1, 2), s7);
    }
    if (count & 1) {
      const x = v128.load64_zero(at);
      s0 = fused(x, v128.load(beside), s0);
      s1 = fused(x, v128.load(beside, 8), s1);
      s2 = fused(x, v128.load(beside, 16), s2);
      s3 = fused(x, v128.load(beside, 24), s3);
      s4 = fused(x, v128.load(beside, 32), s4);
      s5 = fused(x, v128.load(beside, 40), s5);
      s6 = fused(x, v128.load(beside, 48), s6);
      s7 = fused(x, v128.load(beside, 56), s7);
    }
    const sums = out + (usize(j) << 3);
    v128.store(sums, f64x2.add(v128.load(sums), both(s0, s1)));
    v128.store(sums, f64x2.add(v128.load(sums, 16), both(s2, s3)), 16);
    v128.store(sums, f64x2.add(v128.load(sums, 32), both(s4, s5)), 32);
    v128.store(sums, f64x2.add(v128.load(sums, 48), both(s6, s7)), 48);
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
 * Two values each of two rows of the triangle, from what is left of the matrix there once the columns before are taken off.
 * @param column where the row of the first value's column begins @param place of that column, in bytes
 */
// @ts-ignore: decorator
@inline
function settle(row: usize, rowBytes: usize, column: usize, place: usize, above: v128, below: v128): void {
  const rowAfter = row + rowBytes;
  const first = f64x2.extract_lane(above, 0);
  const second = f64x2.extract_lane(above, 1);
  const firstBelow = f64x2.extract_lane(below, 0);
  const secondBelow = f64x2.extract_lane(below, 1);
  if (row == column) {
    const diagonal = Math.sqrt(Math.max(first, LEAST));
    const between = firstBelow / diagonal;
    store<f64>(row + place, diagonal);
    store<f64>(rowAfter + place, between);
    store<f64>(rowAfter + place, Math.sqrt(Math.max(secondBelow - between * between, LEAST)), 8);
    return;
  }
  const diagonal = load<f64>(column + place);
  const between = load<f64>(column + rowBytes + place);
  const diagonalAfter = load<f64>(column + rowBytes + place, 8);
  const value = first / diagonal;
  const valueBelow = firstBelow / diagonal;
  store<f64>(row + place, value);
  store<f64>(rowAfter + place, valueBelow);
  store<f64>(row + place, (second - value * between) / diagonalAfter, 8);
  store<f64>(rowAfter + place, (secondBelow - valueBelow * between) / diagonalAfter, 8);
}

/**
 * Solves the symmetric system whose upper triangle is in `matrix` (row-major), by Cholesky's decomposition, four rows and two columns at a time: so what is
 * loaded serves several times. The size is a multiple of four. The solution replaces `right`; row i of the lower triangle is kept in row i of `lower`.
 */
export function solve(matrix: usize, lower: usize, right: usize, size: u32): void {
  const rowBytes = usize(size) << 3;
  for (let i: u32 = 0; i < size; i += 4) {
    const r0 = lower + usize(i) * rowBytes;
    const r1 = r0 + rowBytes;
    const r2 = r1 + rowBytes;
    const r3 = r2 + rowBytes;
    for (let j: u32 = 0; j <= i + 2; j += 2) {
      const column = lower + usize(j) * rowBytes;
      const columnAfter = column + rowBytes;
      let s0 = f64x2.splat(0);
      let s1 = f64x2.splat(0);
      let s2 = f64x2.splat(0);
      let s3 = f64x2.splat(0);
      let t0 = f64x2.splat(0);
      let t1 = f64x2.splat(0);
      let t2 = f64x2.splat(0);
      let t3 = f64x2.splat(0);
      const place = usize(j) << 3;
      for (let at: usize = 0; at < place; at += 16) {
        const c = v128.load(column + at);
        const d = v128.load(columnAfter + at);
        const a0 = v128.load(r0 + at);
        s0 = fused(a0, c, s0);
        t0 = fused(a0, d, t0);
        const a1 = v128.load(r1 + at);
        s1 = fused(a1, c, s1);
        t1 = fused(a1, d, t1);
        const a2 = v128.load(r2 + at);
        s2 = fused(a2, c, s2);
        t2 = fused(a2, d, t2);
        const a3 = v128.load(r3 + at);
        s3 = fused(a3, c, s3);
        t3 = fused(a3, d, t3);
      }
      // What the matrix has in these two columns, for each row.
      const cells = matrix + usize(j) * rowBytes + (usize(i) << 3);
      const m0 = v128.load(cells);
      const m2 = v128.load(cells, 16);
      const n0 = v128.load(cells + rowBytes);
      const n2 = v128.load(cells + rowBytes, 16);
      if (j <= i)
        settle(
          r0,
          rowBytes,
          column,
          place,
          f64x2.sub(v128.shuffle<f64>(m0, n0, 0, 2), both(s0, t0)),
          f64x2.sub(v128.shuffle<f64>(m0, n0, 1, 3), both(s1, t1)),
        );
      settle(
        r2,
        rowBytes,
        column,
        place,
        f64x2.sub(v128.shuffle<f64>(m2, n2, 0, 2), both(s2, t2)),
        f64x2.sub(v128.shuffle<f64>(m2, n2, 1, 3), both(s3, t3)),
      );
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
