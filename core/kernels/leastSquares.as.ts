// The normal equations of a short filter: sums of products at many lags, and their solution.
// Held to the plain sums in shortFilter.test.ts.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

/**
 * Adds the sums over n of a[n] * b[n + j] to out[j], for j = 0 up to `lags` (a multiple of four).
 * b must reach `lags` values past a's end.
 */
export function addLagProducts(a: usize, b: usize, count: u32, lags: u32, out: usize): void {
  for (let j: u32 = 0; j < lags; j += 4) {
    let first = f64x2.splat(0);
    let second = f64x2.splat(0);
    let at = a;
    let beside = b + (usize(j) << 3);
    const end = a + (usize(count) << 3);
    for (; at < end; at += 8, beside += 8) {
      const x = v128.load64_splat(at);
      first = f64x2.add(first, f64x2.mul(x, v128.load(beside)));
      second = f64x2.add(second, f64x2.mul(x, v128.load(beside, 16)));
    }
    const sums = out + (usize(j) << 3);
    v128.store(sums, f64x2.add(v128.load(sums), first));
    v128.store(sums, f64x2.add(v128.load(sums, 16), second), 16);
  }
}

/**
 * Adds the sums over n of x[n + i] * x[n + j] to the upper triangle of a square matrix: row 0 is given by
 * `firstRow`, each diagonal follows from its first element by what enters and leaves at the ends.
 */
export function addProductMatrix(x: usize, count: u32, size: u32, firstRow: usize, matrix: usize): void {
  const end = x + (usize(count) << 3);
  const below = (usize(size) + 1) << 3;
  for (let j: u32 = 0; j < size; j++) {
    const across = usize(j) << 3;
    let value = load<f64>(firstRow + across);
    let cell = matrix + across;
    store<f64>(cell, load<f64>(cell) + value);
    for (let i: usize = 0; u32(i) + j + 1 < size; i++) {
      const at = i << 3;
      value += load<f64>(end + at) * load<f64>(end + at + across) - load<f64>(x + at) * load<f64>(x + at + across);
      cell += below;
      store<f64>(cell, load<f64>(cell) + value);
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
      let sums = f64x2.splat(0);
      let k: u32 = 0;
      for (; k + 2 <= j; k += 2) sums = f64x2.add(sums, f64x2.mul(v128.load(row + (usize(k) << 3)), v128.load(other + (usize(k) << 3))));
      let sum = f64x2.extract_lane(sums, 0) + f64x2.extract_lane(sums, 1);
      if (k < j) sum += load<f64>(row + (usize(k) << 3)) * load<f64>(other + (usize(k) << 3));
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

/** Sum of squares of target[n] minus the filter's prediction from source[n] on; `taps` is a multiple of two. */
export function residualSquares(source: usize, target: usize, count: u32, filter: usize, taps: u32): f64 {
  let squares: f64 = 0;
  for (let n: u32 = 0; n < count; n++) {
    let sums = f64x2.splat(0);
    const from = source + (usize(n) << 3);
    for (let i: u32 = 0; i < taps; i += 2) sums = f64x2.add(sums, f64x2.mul(v128.load(from + (usize(i) << 3)), v128.load(filter + (usize(i) << 3))));
    const left = load<f64>(target + (usize(n) << 3)) - f64x2.extract_lane(sums, 0) - f64x2.extract_lane(sums, 1);
    squares += left * left;
  }
  return squares;
}
