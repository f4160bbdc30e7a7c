import { requireInOpenInterval, requirePositive } from '../errors/index.js';
import { erfc, findRoot, logGamma, regularizedBeta, regularizedGammaUpper } from '../numeric/index.js';

/** P(Z ≤ z) for a standard normal Z. */
export function normalCdf(z: number): number {
  return erfc(-z / Math.SQRT2) / 2;
}

/** The z with `normalCdf(z) = p`; throws `out-of-range` unless 0 < p < 1. */
export function normalQuantile(p: number): number {
  requireInOpenInterval({ p }, 0, 1);
  if (p > 0.5) return -normalQuantile(1 - p);
  return findRoot((z) => Math.log(normalCdf(z)) - Math.log(p), -38, 1e-9, 1e-14);
}

/** P(T ≤ t) for Student's t; `degreesOfFreedom` need not be whole. Source: DLMF 8.17. */
export function studentTCdf(t: number, degreesOfFreedom: number): number {
  requirePositive({ degreesOfFreedom });
  const tail = regularizedBeta(degreesOfFreedom / (degreesOfFreedom + t * t), degreesOfFreedom / 2, 0.5) / 2;
  return t > 0 ? 1 - tail : tail;
}

/** P(|T| ≥ |t|), without the cancellation of 1 − cdf in far tails. */
export function studentTTwoSided(t: number, degreesOfFreedom: number): number {
  return 2 * studentTCdf(-Math.abs(t), degreesOfFreedom);
}

/** The t with `studentTCdf(t) = p`. Throws `out-of-range` unless 0 < p < 1. */
export function studentTQuantile(p: number, degreesOfFreedom: number): number {
  requireInOpenInterval({ p }, 0, 1);
  requirePositive({ degreesOfFreedom });
  if (p === 0.5) return 0;
  if (p > 0.5) return -studentTQuantile(1 - p, degreesOfFreedom);
  let lower = -1;
  while (studentTCdf(lower, degreesOfFreedom) > p) lower *= 2;
  return findRoot((t) => Math.log(studentTCdf(t, degreesOfFreedom)) - Math.log(p), lower, 0, 1e-14);
}

/** P(F ≥ f) with `numeratorDf`, `denominatorDf` degrees of freedom. */
export function fUpperTail(f: number, numeratorDf: number, denominatorDf: number): number {
  requirePositive({ numeratorDf, denominatorDf });
  if (f <= 0) return 1;
  return regularizedBeta(denominatorDf / (denominatorDf + numeratorDf * f), denominatorDf / 2, numeratorDf / 2);
}

/** P(X ≥ x) for chi-squared. */
export function chiSquaredUpperTail(x: number, degreesOfFreedom: number): number {
  requirePositive({ degreesOfFreedom });
  return regularizedGammaUpper(degreesOfFreedom / 2, x / 2);
}

/** The x with P(X ≤ x) = p for chi-squared. Throws `out-of-range` unless 0 < p < 1. */
export function chiSquaredQuantile(p: number, degreesOfFreedom: number): number {
  requireInOpenInterval({ p }, 0, 1);
  let upper = degreesOfFreedom + 1;
  while (1 - chiSquaredUpperTail(upper, degreesOfFreedom) < p) upper *= 2;
  return findRoot((x) => 1 - chiSquaredUpperTail(x, degreesOfFreedom) - p, 0, upper, 1e-12);
}

/**
 * P(T ≤ t) for noncentral t with noncentrality δ.
 * Method: sum of weighted incomplete beta functions, started at the largest Poisson weight so that a large δ does not underflow.
 * Source: Lenth (1989), Algorithm AS 243, Applied Statistics 38(1), 185–189.
 */
export function noncentralTCdf(t: number, degreesOfFreedom: number, noncentrality: number): number {
  requirePositive({ degreesOfFreedom });
  if (t < 0) return 1 - noncentralTCdf(-t, degreesOfFreedom, -noncentrality);
  const base = normalCdf(-noncentrality);
  if (t === 0) return base;
  const x = (t * t) / (t * t + degreesOfFreedom);
  const half = (noncentrality * noncentrality) / 2;
  if (half === 0) return studentTCdf(t, degreesOfFreedom);
  const term = (j: number): number => {
    const poisson = Math.exp(-half + j * Math.log(half) - logGamma(j + 1));
    const odd = Math.exp(-half + j * Math.log(half) - logGamma(j + 1.5));
    return (
      poisson * regularizedBeta(x, j + 0.5, degreesOfFreedom / 2) +
      (noncentrality / Math.SQRT2) * odd * regularizedBeta(x, j + 1, degreesOfFreedom / 2)
    );
  };
  const start = Math.floor(half);
  let sum = 0;
  for (let j = start; j >= 0; j--) {
    const value = term(j);
    sum += value;
    if (Math.abs(value) < 1e-17 && j < start) break;
  }
  for (let j = start + 1; j < start + 10_000; j++) {
    const value = term(j);
    sum += value;
    if (Math.abs(value) < 1e-17) break;
  }
  return Math.min(1, Math.max(0, base + sum / 2));
}
