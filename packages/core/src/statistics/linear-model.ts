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
  const a = rows.map((row) => Float64Array.from(row));
  const b = Float64Array.from(y);
  const columnNorms = Array.from({ length: p }, (_, j) => Math.hypot(...a.map((row) => row[j]!)));
  for (let j = 0; j < p; j++) {
    let norm = 0;
    for (let i = j; i < n; i++) norm = Math.hypot(norm, a[i]![j]!);
    if (norm <= 1e-10 * columnNorms[j]! || norm === 0) return refusal('not-separable');
    const alpha = a[j]![j]! > 0 ? -norm : norm;
    const v = new Float64Array(n);
    for (let i = j; i < n; i++) v[i] = a[i]![j]!;
    v[j]! -= alpha;
    const vv = v.reduce((sum, value) => sum + value * value, 0);
    for (let k = j; k < p; k++) {
      let dot = 0;
      for (let i = j; i < n; i++) dot += v[i]! * a[i]![k]!;
      for (let i = j; i < n; i++) a[i]![k]! -= (2 * dot * v[i]!) / vv;
    }
    let dot = 0;
    for (let i = j; i < n; i++) dot += v[i]! * b[i]!;
    for (let i = j; i < n; i++) b[i]! -= (2 * dot * v[i]!) / vv;
  }
  const inverse = invertUpperTriangle(a, p);
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

function invertUpperTriangle(r: readonly Float64Array[], p: number): Float64Array[] {
  const inverse = Array.from({ length: p }, () => new Float64Array(p));
  for (let j = 0; j < p; j++) {
    inverse[j]![j] = 1 / r[j]![j]!;
    for (let i = j - 1; i >= 0; i--) {
      let sum = 0;
      for (let k = i + 1; k <= j; k++) sum += r[i]![k]! * inverse[k]![j]!;
      inverse[i]![j] = -sum / r[i]![i]!;
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
