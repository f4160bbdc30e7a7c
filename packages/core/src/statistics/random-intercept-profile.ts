import { dot, invertSymmetric, multiply, quadratic } from './small-matrices.js';

/** What the likelihood needs of the rows: sums over all and by group, of y less its mean. */
export interface GroupSums {
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

/** Shapes as `fitRandomIntercept`; the model must span a constant, since the mean of y is taken off. */
export function summarizeGroups(
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

/** Least squares at one ratio λ of the two variances. */
export interface ProfileFit {
  readonly lambda: number;
  readonly coefficients: Float64Array;
  readonly residualSumOfSquares: number;
  /** (Xᵀ V⁻¹ X)⁻¹ and its determinant's logarithm, V = I + λ Z Zᵀ. */
  readonly inverse: Float64Array;
  readonly logDeterminant: number;
  /** Of the profiled deviance, −2 log restricted likelihood, by λ. */
  readonly slope: number;
}

/** The fit at a ratio λ ≥ −1/n of the largest group; undefined where the columns are dependent. */
export function profile(sums: GroupSums, lambda: number): ProfileFit | undefined {
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

/** −2 log restricted likelihood at λ, the residual variance at its best. */
export function profiledDeviance(sums: GroupSums, lambda: number): number {
  const fit = profile(sums, lambda);
  if (!fit) return Infinity;
  const logV = sums.groups.reduce((sum, { count }) => sum + Math.log1p(count * lambda), 0);
  const free = sums.n - sums.p;
  return (
    logV + fit.logDeterminant + free * (1 + Math.log((2 * Math.PI * Math.max(fit.residualSumOfSquares, 1e-300)) / free))
  );
}
