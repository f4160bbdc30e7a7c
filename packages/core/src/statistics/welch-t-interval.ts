import { refusal, requireInOpenInterval, success, type Outcome } from '../errors/index.js';
import { studentTQuantile, studentTTwoSided } from './distributions.js';
import { summarizeSample, type SampleSummary } from './sample-summary.js';

export interface MeanDifference {
  readonly estimate: number;
  readonly lower: number;
  readonly upper: number;
  readonly standardError: number;
  readonly degreesOfFreedom: number;
  readonly t: number;
  readonly pValue: number;
}

/**
 * Welch's t interval for `mean(a) − mean(b)`: two independent samples, variances not assumed equal.
 *
 * Shapes: one summary per sample, made by `summarizeSample`: `count ≥ 2`, all values finite.
 * Units:  `mean` in a unit U and `variance` in U²; the result is in U.
 * Method: standard error √(sₐ²/nₐ + s_b²/n_b); Welch–Satterthwaite degrees of freedom.
 * Fails:  throws `out-of-range` unless 0 < confidenceLevel < 1; returns `too-few` or, if both variances are 0, `no-spread`.
 * Source: Welch (1947), Biometrika 34(1–2), 28–35, doi:10.1093/biomet/34.1-2.28.
 */
export function welchTInterval(
  a: SampleSummary,
  b: SampleSummary,
  confidenceLevel: number,
): Outcome<MeanDifference, 'no-spread' | 'too-few'> {
  requireInOpenInterval({ confidenceLevel }, 0, 1);
  if (a.count < 2 || b.count < 2) return refusal('too-few');
  const varianceOfMeanA = a.variance / a.count;
  const varianceOfMeanB = b.variance / b.count;
  const varianceOfDifference = varianceOfMeanA + varianceOfMeanB;
  if (varianceOfDifference === 0) return refusal('no-spread');

  // Shares, not the textbook's squared variances: those underflow to 0/0 for samples with almost no spread.
  const shareA = varianceOfMeanA / varianceOfDifference;
  const shareB = varianceOfMeanB / varianceOfDifference;
  const degreesOfFreedom = 1 / (shareA ** 2 / (a.count - 1) + shareB ** 2 / (b.count - 1));
  const standardError = Math.sqrt(varianceOfDifference);
  const margin = studentTQuantile((1 + confidenceLevel) / 2, degreesOfFreedom) * standardError;
  const estimate = a.mean - b.mean;
  const t = estimate / standardError;
  return success({
    estimate,
    lower: estimate - margin,
    upper: estimate + margin,
    standardError,
    degreesOfFreedom,
    t,
    pValue: studentTTwoSided(t, degreesOfFreedom),
  });
}

/**
 * Ratio of geometric means a / b with Welch's interval on the logarithms.
 * Values must be positive: returns `not-positive` otherwise.
 */
export function welchRatioInterval(
  a: readonly number[],
  b: readonly number[],
  confidenceLevel: number,
): Outcome<
  { ratio: number; lower: number; upper: number; degreesOfFreedom: number; pValue: number },
  'no-spread' | 'not-positive' | 'too-few'
> {
  if (![...a, ...b].every((value) => value > 0)) return refusal('not-positive');
  const logs = welchTInterval(summarizeSample(a.map(Math.log)), summarizeSample(b.map(Math.log)), confidenceLevel);
  if (!logs.ok) return logs;
  const { estimate, lower, upper, degreesOfFreedom, pValue } = logs.value;
  return success({
    ratio: Math.exp(estimate),
    lower: Math.exp(lower),
    upper: Math.exp(upper),
    degreesOfFreedom,
    pValue,
  });
}
