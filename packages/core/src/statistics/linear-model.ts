import { CoreError, refusal, success, type Outcome } from '../errors/index.js';

export interface LinearFit {
  readonly coefficients: Float64Array;
  /** (XᵀX)⁻¹, row-major p × p. */
  readonly unscaledCovariance: Float64Array;
  readonly residualVariance: number;
  readonly residualSumOfSquares: number;
  readonly degreesOfFreedom: number;
}

/**
 * Ordinary least squares of y on the columns of a design matrix, by Householder QR.
 *
 * Shapes: `rows` n × p with n > p, full column rank.
 * Fails:  `not-separable` when the columns are linearly dependent, `too-few` when n ≤ p.
 * Source: Golub & Van Loan (2013), Matrix Computations, 4th ed., alg. 5.3.2.
 */
export function fitLinearModel(
  rows: readonly (readonly number[])[],
  y: readonly number[],
): Outcome<LinearFit, 'not-separable' | 'too-few'> {
  const n = rows.length;
  const p = rows[0]?.length ?? 0;
  if (n !== y.length) throw new CoreError('length-mismatch', `${n} rows for ${y.length} values`);
  if (n <= p) return refusal('too-few');
  const columns = Array.from({ length: p }, (_, j) => Float64Array.from(rows, (row) => row[j]!));
  const b = Float64Array.from(y);
  const columnNorms = columns.map((column) => norm(column, 0));
  const v = new Float64Array(n);
  for (let j = 0; j < p; j++) {
    const column = columns[j]!;
    const length = norm(column, j);
    if (length <= 1e-10 * columnNorms[j]! || length === 0) return refusal('not-separable');
    // In shares of its length: its square neither overflows nor vanishes.
    for (let i = j; i < n; i++) v[i] = column[i]! / length;
    v[j]! -= column[j]! > 0 ? -1 : 1;
    let vv = 0;
    for (let i = j; i < n; i++) vv += v[i]! * v[i]!;
    for (let k = j; k < p; k++) reflect(columns[k]!, v, vv, j);
    reflect(b, v, vv, j);
  }
  const inverse = invertUpperTriangle(columns, p);
  const coefficients = new Float64Array(p);
  const unscaledCovariance = new Float64Array(p * p);
  for (let i = 0; i < p; i++) {
    for (let j = i; j < p; j++) coefficients[i]! += inverse[i]![j]! * b[j]!;
    for (let k = 0; k < p; k++)
      for (let j = Math.max(i, k); j < p; j++) unscaledCovariance[i * p + k]! += inverse[i]![j]! * inverse[k]![j]!;
  }
  let residualSumOfSquares = 0;
  for (let i = p; i < n; i++) residualSumOfSquares += b[i]! ** 2;
  const degreesOfFreedom = n - p;
  return success({
    coefficients,
    unscaledCovariance,
    residualVariance: residualSumOfSquares / degreesOfFreedom,
    residualSumOfSquares,
    degreesOfFreedom,
  });
}

/** Length of a vector from an element on, whatever its magnitude. */
function norm(x: Float64Array, from: number): number {
  let largest = 0;
  for (let i = from; i < x.length; i++) largest = Math.max(largest, Math.abs(x[i]!));
  if (largest === 0) return 0;
  let squares = 0;
  for (let i = from; i < x.length; i++) squares += (x[i]! / largest) ** 2;
  return largest * Math.sqrt(squares);
}

/** Mirrors a vector, from an element on, on the plane that v stands upright on. */
function reflect(x: Float64Array, v: Float64Array, vv: number, from: number): void {
  let onto = 0;
  for (let i = from; i < x.length; i++) onto += v[i]! * x[i]!;
  const twice = (2 * onto) / vv;
  for (let i = from; i < x.length; i++) x[i]! -= twice * v[i]!;
}

/** `columns`: R stands in the first p elements of each. */
function invertUpperTriangle(columns: readonly Float64Array[], p: number): Float64Array[] {
  const inverse = Array.from({ length: p }, () => new Float64Array(p));
  for (let j = 0; j < p; j++) {
    inverse[j]![j] = 1 / columns[j]![j]!;
    for (let i = j - 1; i >= 0; i--) {
      let sum = 0;
      for (let k = i + 1; k <= j; k++) sum += columns[k]![i]! * inverse[k]![j]!;
      inverse[i]![j] = -sum / columns[i]![i]!;
    }
  }
  return inverse;
}

/** Estimate and standard error of a linear combination of the coefficients. */
export function linearCombination(
  fit: LinearFit,
  weights: readonly number[],
): { estimate: number; standardError: number } {
  const p = fit.coefficients.length;
  let estimate = 0;
  let variance = 0;
  for (let i = 0; i < p; i++) {
    estimate += weights[i]! * fit.coefficients[i]!;
    for (let k = 0; k < p; k++) variance += weights[i]! * weights[k]! * fit.unscaledCovariance[i * p + k]!;
  }
  return { estimate, standardError: Math.sqrt(variance * fit.residualVariance) };
}
