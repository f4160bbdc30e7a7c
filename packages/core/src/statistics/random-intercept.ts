import { CoreError, refusal, success, type Outcome } from '../errors/index.js';
import { findRoot, solveSymmetric } from '../numeric/index.js';

export interface RandomInterceptFit {
  readonly coefficients: Float64Array;
  /** Variance between runs within a group, and between groups; the latter is 0 where the groups differ by no more than chance. */
  readonly residualVariance: number;
  readonly groupVariance: number;
  readonly remlLogLikelihood: number;
  /** Linear combination of the coefficients with its Satterthwaite degrees of freedom. */
  readonly combine: (weights: readonly number[]) => {
    readonly estimate: number;
    readonly standardError: number;
    readonly degreesOfFreedom: number;
  };
}

/**
 * Linear model with fixed effects and one random intercept by group, by restricted maximum likelihood.
 *
 * Shapes: `rows` n × p of full column rank, n > p; `group` an index from 0 for each row, at least two groups and fewer than rows.
 * Units:  coefficients in the unit of y per unit of its column.
 * Method: the likelihood is profiled over the ratio λ of the two variances, for which each group's covariance inverts in closed
 *         form; degrees of freedom by Satterthwaite from the observed information of (λ, log σ²). Where λ comes out as 0 the estimates
 *         are those of least squares, but their errors are taken at the λ < 0 that the likelihood would rather have: held at 0 they
 *         would be too small for what varies within groups and too large for what varies between them.
 * Fails:  `too-few`; `not-separable` for dependent columns; `no-spread` when nothing is left over to judge by.
 * Source: Laird & Ware (1982), Biometrics 38(4), 963–974; Fai & Cornelius (1996), J. Stat. Comput. Simul. 54(4), 363–378.
 */
export function fitRandomIntercept(
  rows: readonly (readonly number[])[],
  y: readonly number[],
  group: readonly number[],
): Outcome<RandomInterceptFit, 'no-spread' | 'not-separable' | 'too-few'> {
  const n = rows.length;
  if (n !== y.length || n !== group.length) throw new CoreError('length-mismatch', `${n} rows, ${y.length} values`);
  const sums = summarizeGroups(rows, y, group);
  if (n <= sums.p || sums.groups.length < 2 || sums.groups.length >= n) return refusal('too-few');
  const atZero = profile(sums, 0);
  if (!atZero) return refusal('not-separable');
  if (!(atZero.residualSumOfSquares > ROUNDING * sums.total)) return refusal('no-spread');
  const lambda = maximizeRatio(sums, atZero);
  const best = lambda === 0 ? atZero : profile(sums, lambda);
  if (!best || !(best.residualSumOfSquares > ROUNDING * sums.total)) return refusal('no-spread');
  return success(describeFit(sums, best));
}

/** Below this share of what varies, nothing is left over but rounding. */
const ROUNDING = 1e-20;
/** A ratio of variances beyond this leaves only what varies within groups. */
const LARGEST_RATIO = 1e9;

interface GroupSums {
  readonly n: number;
  readonly p: number;
  /** XᵀX, Xᵀy, and by group the number of rows, the column sums and the sum of y; y less its mean. */
  readonly xx: Float64Array;
  readonly xy: Float64Array;
  readonly total: number;
  readonly mean: number;
  readonly columnMeans: Float64Array;
  readonly groups: readonly { readonly count: number; readonly x: Float64Array; readonly y: number }[];
}

function summarizeGroups(
  rows: readonly (readonly number[])[],
  y: readonly number[],
  group: readonly number[],
): GroupSums {
  const n = rows.length;
  const p = rows[0]?.length ?? 0;
  // A shift of all values does not touch the variances, and keeps sums of squares from cancelling; the model must span it.
  const mean = y.reduce((sum, value) => sum + value, 0) / Math.max(1, n);
  const xx = new Float64Array(p * p);
  const xy = new Float64Array(p);
  const columnMeans = new Float64Array(p);
  let total = 0;
  const byGroup = new Map<number, { count: number; x: Float64Array; y: number }>();
  rows.forEach((row, i) => {
    const value = y[i]! - mean;
    total += value * value;
    const own = byGroup.get(group[i]!) ?? { count: 0, x: new Float64Array(p), y: 0 };
    byGroup.set(group[i]!, own);
    own.count += 1;
    own.y += value;
    for (let a = 0; a < p; a++) {
      own.x[a]! += row[a]!;
      columnMeans[a]! += row[a]! / n;
      xy[a]! += row[a]! * value;
      for (let b = 0; b < p; b++) xx[a * p + b]! += row[a]! * row[b]!;
    }
  });
  return { n, p, xx, xy, total, mean, columnMeans, groups: [...byGroup.values()] };
}

interface ProfileFit {
  readonly lambda: number;
  readonly coefficients: Float64Array;
  readonly residualSumOfSquares: number;
  /** (Xᵀ V⁻¹ X)⁻¹ and its determinant's logarithm, V = I + λ Z Zᵀ. */
  readonly inverse: Float64Array;
  readonly logDeterminant: number;
  /** Of the profiled deviance, −2 log restricted likelihood, by λ. */
  readonly slope: number;
}

function profile(sums: GroupSums, lambda: number): ProfileFit | undefined {
  const { n, p, groups } = sums;
  const m = Float64Array.from(sums.xx);
  const v = Float64Array.from(sums.xy);
  let q = sums.total;
  for (const g of groups) {
    const weight = lambda / (1 + g.count * lambda);
    q -= weight * g.y * g.y;
    for (let a = 0; a < p; a++) {
      v[a]! -= weight * g.x[a]! * g.y;
      for (let b = 0; b < p; b++) m[a * p + b]! -= weight * g.x[a]! * g.x[b]!;
    }
  }
  const inverse = invertSymmetric(m, p);
  if (!inverse) return undefined;
  const coefficients = multiply(inverse.matrix, v);
  let residualSumOfSquares = q;
  for (let a = 0; a < p; a++) residualSumOfSquares -= coefficients[a]! * v[a]!;
  const derivative = firstDerivatives(sums, lambda, inverse.matrix, coefficients);
  const slope =
    derivative.logV + derivative.logM + ((n - p) * derivative.residual) / Math.max(residualSumOfSquares, 1e-300);
  return {
    lambda,
    coefficients,
    residualSumOfSquares,
    inverse: inverse.matrix,
    logDeterminant: inverse.logDeterminant,
    slope,
  };
}

/** By λ: of log|V|, of log|XᵀV⁻¹X|, of the residual sum of squares. */
function firstDerivatives(sums: GroupSums, lambda: number, inverse: Float64Array, coefficients: Float64Array) {
  let logV = 0;
  let logM = 0;
  let residual = 0;
  for (const g of sums.groups) {
    const w1 = 1 / (1 + g.count * lambda) ** 2;
    logV += g.count / (1 + g.count * lambda);
    logM -= w1 * quadratic(inverse, g.x);
    residual -= w1 * (g.y - dot(g.x, coefficients)) ** 2;
  }
  return { logV, logM, residual };
}

/** The λ ≥ 0 of the largest restricted likelihood. */
function maximizeRatio(sums: GroupSums, atZero: ProfileFit): number {
  const slopeAt = (lambda: number): number => profile(sums, lambda)?.slope ?? 1;
  // The deviance can have its minimum away from 0 although it rises there: look along a wide logarithmic grid.
  const grid = Array.from({ length: GRID }, (_, k) => 1e-3 * 10 ** ((6 * k) / (GRID - 1)));
  const slopes = [atZero.slope, ...grid.map(slopeAt)];
  const points = [0, ...grid];
  const candidates: number[] = atZero.slope >= 0 ? [0] : [];
  for (let k = 1; k < points.length; k++)
    if (slopes[k - 1]! < 0 && slopes[k]! >= 0)
      candidates.push(findRoot(slopeAt, points[k - 1]!, points[k]!, 1e-14 * points[k]!));
  if (slopes.at(-1)! < 0) {
    let upper = 10 * points.at(-1)!;
    while (slopeAt(upper) < 0 && upper < LARGEST_RATIO) upper *= 10;
    candidates.push(slopeAt(upper) < 0 ? upper : findRoot(slopeAt, points.at(-1)!, upper, 1e-14 * upper));
  }
  const best = candidates.map((lambda) => ({ lambda, deviance: profiledDeviance(sums, lambda) }));
  best.sort((a, b) => a.deviance - b.deviance);
  return best[0]?.lambda ?? 0;
}
const GRID = 13;

function profiledDeviance(sums: GroupSums, lambda: number): number {
  const fit = profile(sums, lambda);
  if (!fit) return Infinity;
  const logV = sums.groups.reduce((sum, { count }) => sum + Math.log1p(count * lambda), 0);
  const free = sums.n - sums.p;
  return (
    logV + fit.logDeterminant + free * (1 + Math.log((2 * Math.PI * Math.max(fit.residualSumOfSquares, 1e-300)) / free))
  );
}

function describeFit(sums: GroupSums, fit: ProfileFit): RandomInterceptFit {
  const { n, p } = sums;
  const atErrors = fit.lambda > 0 ? fit : (profile(sums, ratioBelowZero(sums)) ?? fit);
  const residualVariance = atErrors.residualSumOfSquares / (n - p);
  const information = observedInformation(sums, atErrors, residualVariance);
  const coefficients = Float64Array.from(fit.coefficients);
  // The mean was taken off y; columns that sum to one on every row (a mean of each setup) get it back.
  const offset = offsetOf(sums);
  for (let a = 0; a < p; a++) coefficients[a]! += offset[a]! * sums.mean;
  const shownVariance = fit.residualSumOfSquares / (n - p);
  return {
    coefficients,
    residualVariance: shownVariance,
    groupVariance: fit.lambda * shownVariance,
    remlLogLikelihood: -profiledDeviance(sums, fit.lambda) / 2,
    combine: (weights) => {
      const { variance, byLambda } = errorOf(sums, fit, atErrors.lambda, residualVariance, weights);
      return {
        estimate: dot(coefficients, weights),
        standardError: Math.sqrt(variance),
        degreesOfFreedom: satterthwaite(variance, byLambda, information) ?? n - p,
      };
    },
  };
}

/** Nearest to 0 below it, the λ at which the restricted likelihood has its top; all groups' variances stay positive. */
function ratioBelowZero(sums: GroupSums): number {
  const largest = Math.max(...sums.groups.map(({ count }) => count));
  const slopeAt = (lambda: number): number => profile(sums, lambda)?.slope ?? -1;
  let above = 0;
  for (let k = 1; k <= BELOW_STEPS; k++) {
    const lambda = (-LOWEST_SHARE * k) / BELOW_STEPS / largest;
    if (slopeAt(lambda) < 0) return findRoot(slopeAt, lambda, above, 1e-12 / largest);
    above = lambda;
  }
  return above;
}
const BELOW_STEPS = 24;
const LOWEST_SHARE = 0.95;

/** Variance of a combination of the coefficients of `fit` when the ratio is `lambda`, and its derivative by it. */
function errorOf(
  sums: GroupSums,
  fit: ProfileFit,
  lambda: number,
  residualVariance: number,
  weights: readonly number[],
): { variance: number; byLambda: number } {
  const projected = multiply(fit.inverse, Float64Array.from(weights));
  let between = 0;
  for (const g of sums.groups) between += dot(g.x, projected) ** 2 / (1 + g.count * fit.lambda) ** 2;
  const plain = dot(projected, weights);
  return {
    variance: residualVariance * (plain + (lambda - fit.lambda) * between),
    byLambda: residualVariance * between,
  };
}

/** Coefficients of a column of ones: what a constant added to y adds to each coefficient. */
function offsetOf({ p, n, xx, columnMeans }: GroupSums): Float64Array {
  return (
    solveSymmetric(
      xx,
      columnMeans.map((mean) => mean * n),
    ) ?? new Float64Array(p)
  );
}

/** Half the Hessian of the deviance by (λ, τ = log σ²). */
function observedInformation(
  sums: GroupSums,
  { lambda, inverse, coefficients }: ProfileFit,
  residualVariance: number,
): [number, number, number] {
  const { p } = sums;
  const m1 = new Float64Array(p * p);
  const m2 = new Float64Array(p * p);
  const gradient = new Float64Array(p);
  let logV = 0;
  let residual1 = 0;
  let residual2 = 0;
  for (const g of sums.groups) {
    const base = 1 + g.count * lambda;
    const w1 = 1 / base ** 2;
    const w2 = (-2 * g.count) / base ** 3;
    const e = g.y - dot(g.x, coefficients);
    logV -= (g.count / base) ** 2;
    residual1 -= w1 * e * e;
    residual2 -= w2 * e * e;
    for (let a = 0; a < p; a++) {
      gradient[a]! += w1 * g.x[a]! * e;
      for (let b = 0; b < p; b++) {
        m1[a * p + b]! -= w1 * g.x[a]! * g.x[b]!;
        m2[a * p + b]! -= w2 * g.x[a]! * g.x[b]!;
      }
    }
  }
  residual2 -= 2 * quadratic(inverse, gradient);
  const product = multiplySquare(inverse, m1, p);
  let logM = 0;
  for (let a = 0; a < p; a++)
    for (let b = 0; b < p; b++)
      logM += inverse[a * p + b]! * m2[b * p + a]! - product[a * p + b]! * product[b * p + a]!;
  return [
    (logV + logM + residual2 / residualVariance) / 2,
    -residual1 / residualVariance / 2,
    // e^(−τ)·RSS at the optimum is n − p.
    (sums.n - p) / 2,
  ];
}

/** 2·V² ÷ Var(V): V the variance of the combination, its own variance by the delta method; undefined without information. */
function satterthwaite(
  variance: number,
  byLambda: number,
  [h11, h12, h22]: [number, number, number],
): number | undefined {
  const determinant = h11 * h22 - h12 * h12;
  if (!(determinant > 0)) return undefined;
  // Covariance of (λ, τ) is the inverse of half the Hessian.
  const varianceOfVariance =
    (byLambda * byLambda * h22 - 2 * byLambda * variance * h12 + variance * variance * h11) / determinant;
  return Math.max(LEAST_FREEDOM, (2 * variance * variance) / varianceOfVariance);
}

/** Fewer than one degree of freedom says no more than one does, and quantiles of it run away. */
const LEAST_FREEDOM = 1;

function dot(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}
function multiply(matrix: Float64Array, vector: Float64Array): Float64Array {
  const p = vector.length;
  return vector.map((_, i) => dot(matrix.subarray(i * p, (i + 1) * p), vector));
}
function quadratic(matrix: Float64Array, vector: ArrayLike<number>): number {
  return dot(multiply(matrix, Float64Array.from(vector)), vector);
}
function multiplySquare(a: Float64Array, b: Float64Array, p: number): Float64Array {
  const out = new Float64Array(p * p);
  for (let i = 0; i < p; i++)
    for (let k = 0; k < p; k++) for (let j = 0; j < p; j++) out[i * p + j]! += a[i * p + k]! * b[k * p + j]!;
  return out;
}
/** Inverse of a symmetric positive definite matrix, and the logarithm of its determinant, by Cholesky. */
function invertSymmetric(
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
