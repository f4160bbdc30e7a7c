import { symmetricEigen } from '../numeric/index.js';
import { success, type Outcome } from '../errors/index.js';
import { fitLinearModel } from './linear-model.js';

export interface RobustFit {
  readonly coefficients: Float64Array;
  readonly combine: (weights: readonly number[]) => {
    readonly estimate: number;
    readonly standardError: number;
    readonly degreesOfFreedom: number;
  };
}

/**
 * Least squares with errors that may scatter differently and hang together within clusters: CR2 with Satterthwaite degrees of freedom.
 *
 * Shapes: `rows` n × p of full column rank, n > p; `cluster` an index for each row. With every row a cluster of its own it is HC2.
 *         Rows may have the means of their cluster swept out before.
 * Method: residuals of each cluster are blown up by (I − H)^(−½), so that the estimated covariance is unbiased where the scatter is alike.
 * Fails:  `too-few`, `not-separable`, as the linear model.
 * Source: Bell & McCaffrey (2002), Survey Methodology 28(2), 169–181; Pustejovsky & Tipton (2018), J. Bus. Econ. Stat. 36(4), 672–683.
 */
export function fitClusterRobust(
  rows: readonly (readonly number[])[],
  y: readonly number[],
  cluster: readonly number[],
): Outcome<RobustFit, 'not-separable' | 'too-few'> {
  const fit = fitLinearModel(rows, y);
  if (!fit.ok) return fit;
  const p = rows[0]!.length;
  const { coefficients, unscaledCovariance: m } = fit.value;
  const rootM = squareRoot(m, p);
  const members = new Map<number, number[]>();
  cluster.forEach((c, i) => members.set(c, [...(members.get(c) ?? []), i]));
  const parts = [...members.values()].map((indices) => {
    const x = indices.map((i) => rows[i]!);
    const residuals = indices.map((i) => y[i]! - rows[i]!.reduce((sum, value, a) => sum + value * coefficients[a]!, 0));
    return { x, residuals, adjust: inverseRootOfResidualMaker(x, rootM) };
  });
  return success({
    coefficients,
    combine: (weights) => {
      const direction = Float64Array.from({ length: p }, (_, a) =>
        weights.reduce((sum, weight, b) => sum + weight * m[a * p + b]!, 0),
      );
      const adjusted = parts.map(({ x, adjust }) => {
        const along = x.map((row) => row.reduce((sum, value, a) => sum + value * direction[a]!, 0));
        return adjust(along);
      });
      const variance = parts.reduce((sum, { residuals }, j) => {
        const score = residuals.reduce((total, e, k) => total + e * adjusted[j]![k]!, 0);
        return sum + score * score;
      }, 0);
      // Trace of G squared over trace of G²: G the covariance of the clusters' scores where the scatter is alike.
      const pulled = parts.map(({ x }, j) =>
        Array.from({ length: p }, (_, a) => x.reduce((sum, row, k) => sum + row[a]! * adjusted[j]![k]!, 0)),
      );
      let trace = 0;
      let squares = 0;
      for (let i = 0; i < parts.length; i++)
        for (let j = 0; j < parts.length; j++) {
          let g = i === j ? adjusted[i]!.reduce((sum, value) => sum + value * value, 0) : 0;
          for (let a = 0; a < p; a++) for (let b = 0; b < p; b++) g -= pulled[i]![a]! * m[a * p + b]! * pulled[j]![b]!;
          if (i === j) trace += g;
          squares += g * g;
        }
      return {
        estimate: weights.reduce((sum, weight, a) => sum + weight * coefficients[a]!, 0),
        standardError: Math.sqrt(variance),
        degreesOfFreedom: (trace * trace) / squares,
      };
    },
  });
}

/**
 * v ↦ (I − X·M·Xᵀ)^(−½)·v of one cluster; directions that the fit takes up wholly are left out.
 * With Z = X·M^½ the eigenvalues of Z·Zᵀ other than zero are those of Zᵀ·Z, so that a cluster of many runs costs no more than
 * the columns of the fit.
 */
function inverseRootOfResidualMaker(
  x: readonly (readonly number[])[],
  rootM: Float64Array,
): (vector: readonly number[]) => number[] {
  const n = x.length;
  const p = x[0]!.length;
  const z = x.map((row) =>
    Float64Array.from({ length: p }, (_, a) => row.reduce((sum, value, b) => sum + value * rootM[b * p + a]!, 0)),
  );
  const gram = new Float64Array(p * p);
  for (const row of z) for (let a = 0; a < p; a++) for (let b = 0; b < p; b++) gram[a * p + b]! += row[a]! * row[b]!;
  const { values, vectors } = symmetricEigen(gram, p);
  const taken = Array.from(values, (value, k) => ({ value, k }))
    .filter(({ value }) => value > TINY)
    .map(({ value, k }) => ({
      along: z.map((row) => row.reduce((sum, one, a) => sum + one * vectors[a * p + k]!, 0) / Math.sqrt(value)),
      stretch: 1 - value > TINY ? 1 / Math.sqrt(1 - value) - 1 : -1,
    }));
  return (vector) => {
    const out = [...vector];
    for (const { along, stretch } of taken) {
      let length = 0;
      for (let i = 0; i < n; i++) length += along[i]! * vector[i]!;
      for (let i = 0; i < n; i++) out[i]! += stretch * length * along[i]!;
    }
    return out;
  };
}
const TINY = 1e-10;

/** Symmetric square root of a positive semidefinite matrix. */
function squareRoot(m: Float64Array, p: number): Float64Array {
  const { values, vectors } = symmetricEigen(m, p);
  const root = new Float64Array(p * p);
  for (let k = 0; k < p; k++) {
    const stretch = Math.sqrt(Math.max(0, values[k]!));
    for (let a = 0; a < p; a++)
      for (let b = 0; b < p; b++) root[a * p + b]! += stretch * vectors[a * p + k]! * vectors[b * p + k]!;
  }
  return root;
}
