import { CoreError, refusal, success, type Outcome } from '../errors/index.js';
import { findRoot, solveSymmetric } from '../numeric/index.js';
import {
  profile,
  profiledDeviance,
  summarizeGroups,
  type GroupSums,
  type ProfileFit,
} from './random-intercept-profile.js';
import { dot, multiply, multiplySquare, quadratic } from './small-matrices.js';

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
