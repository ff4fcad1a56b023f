/** Solves a small positive definite system by Gauss's elimination; no rows need changing places there. Uses the matrix up. */
export function solvedSystem(matrix: Float64Array[], right: Float64Array): Float64Array {
  const size = right.length;
  const x = right.slice();
  for (let k = 0; k < size; k++)
    for (let row = k + 1; row < size; row++) {
      const share = matrix[row][k] / matrix[k][k];
      if (share === 0) continue;
      for (let c = k; c < size; c++) matrix[row][c] -= share * matrix[k][c];
      x[row] -= share * x[k];
    }
  for (let k = size - 1; k >= 0; k--) {
    for (let c = k + 1; c < size; c++) x[k] -= matrix[k][c] * x[c];
    x[k] /= matrix[k][k];
  }
  return x;
}
