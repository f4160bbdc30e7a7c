import { solveSymmetric } from '../numeric/index.js';

/** Products and inverses of row-major square matrices of a few columns. */
export function dot(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}
export function multiply(matrix: Float64Array, vector: Float64Array): Float64Array {
  const p = vector.length;
  return vector.map((_, i) => dot(matrix.subarray(i * p, (i + 1) * p), vector));
}
export function quadratic(matrix: Float64Array, vector: ArrayLike<number>): number {
  return dot(multiply(matrix, Float64Array.from(vector)), vector);
}
export function multiplySquare(a: Float64Array, b: Float64Array, p: number): Float64Array {
  const out = new Float64Array(p * p);
  for (let i = 0; i < p; i++)
    for (let k = 0; k < p; k++) for (let j = 0; j < p; j++) out[i * p + j]! += a[i * p + k]! * b[k * p + j]!;
  return out;
}
/** Inverse of a symmetric positive definite matrix, and the logarithm of its determinant, by Cholesky. */
export function invertSymmetric(
  matrix: Float64Array,
  p: number,
): { matrix: Float64Array; logDeterminant: number } | undefined {
  const inverse = new Float64Array(p * p);
  for (let k = 0; k < p; k++) {
    const unit = new Float64Array(p);
    unit[k] = 1;
    const column = solveSymmetric(matrix, unit);
    if (!column) return undefined;
    for (let i = 0; i < p; i++) inverse[i * p + k] = column[i]!;
  }
  return { matrix: inverse, logDeterminant: logDeterminant(matrix, p) };
}
function logDeterminant(matrix: Float64Array, p: number): number {
  const a = Float64Array.from(matrix);
  let sum = 0;
  for (let k = 0; k < p; k++) {
    sum += Math.log(a[k * p + k]!);
    for (let i = k + 1; i < p; i++) {
      const factor = a[i * p + k]! / a[k * p + k]!;
      for (let j = k; j < p; j++) a[i * p + j]! -= factor * a[k * p + j]!;
    }
  }
  return sum;
}
