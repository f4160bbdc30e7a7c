import { refusal, success, type Outcome } from '../errors/index.js';
import { studentTQuantile, studentTTwoSided } from './distributions.js';
import { summarizeSample } from './sample-summary.js';
import type { MeanDifference } from './welch-t-interval.js';

/** Student's t interval of the mean of paired differences (a − b of each block). */
export function pairedTInterval(
  differences: readonly number[],
  confidenceLevel: number,
): Outcome<MeanDifference, 'no-spread' | 'too-few'> {
  if (differences.length < 2) return refusal('too-few');
  const { count, mean, variance } = summarizeSample(differences);
  if (variance === 0) return refusal('no-spread');
  const standardError = Math.sqrt(variance / count);
  const degreesOfFreedom = count - 1;
  const margin = studentTQuantile((1 + confidenceLevel) / 2, degreesOfFreedom) * standardError;
  const t = mean / standardError;
  return success({
    estimate: mean,
    lower: mean - margin,
    upper: mean + margin,
    standardError,
    degreesOfFreedom,
    t,
    pValue: studentTTwoSided(t, degreesOfFreedom),
  });
}
