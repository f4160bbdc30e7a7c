/** Pivots below this, once the diagonal is scaled to 1, are rounding. */
const MIN_PIVOT = 1e-11;

/**
 * Solution x of A·x = b for a symmetric positive definite A, row-major p × p; undefined where A is singular to rounding.
 *
 * Method: Cholesky after scaling the diagonal to 1 (Golub & Van Loan, Matrix Computations, 4.2), O(p³).
 */
export function solveSymmetric(matrix: ArrayLike<number>, right: ArrayLike<number>): Float64Array | undefined {
  const p = right.length;
  const scale = Float64Array.from({ length: p }, (_, i) => 1 / Math.sqrt(matrix[i * p + i]!));
  const lower = new Float64Array(p * p);
  for (let i = 0; i < p; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = matrix[i * p + j]! * scale[i]! * scale[j]!;
      for (let k = 0; k < j; k++) sum -= lower[i * p + k]! * lower[j * p + k]!;
      if (i !== j) lower[i * p + j] = sum / lower[j * p + j]!;
      else if (sum > MIN_PIVOT) lower[i * p + i] = Math.sqrt(sum);
      else return undefined;
    }
  }
  const x = Float64Array.from({ length: p }, (_, i) => right[i]! * scale[i]!);
  for (let i = 0; i < p; i++) {
    for (let k = 0; k < i; k++) x[i]! -= lower[i * p + k]! * x[k]!;
    x[i]! /= lower[i * p + i]!;
  }
  for (let i = p - 1; i >= 0; i--) {
    for (let k = i + 1; k < p; k++) x[i]! -= lower[k * p + i]! * x[k]!;
    x[i]! /= lower[i * p + i]!;
  }
  return x.map((value, i) => value * scale[i]!);
}
