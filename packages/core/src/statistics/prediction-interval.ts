import { refusal, requireInOpenInterval, success, type Outcome } from '../errors/index.js';
import { studentTQuantile } from './distributions.js';
import type { Interval } from './describe-sample.js';
import { summarizeSample } from './sample-summary.js';

/**
 * Where the next single value will lie: log-normal prediction interval from earlier runs.
 * Values > 0 in a unit U, result in U. Fails: `too-few` (< 2), `not-positive`.
 * Source: Hahn & Meeker (1991), Statistical Intervals, sec. 4.7, on logarithms.
 */
export function logNormalPrediction(
  values: readonly number[],
  confidenceLevel: number,
): Outcome<{ median: number } & Interval, 'not-positive' | 'too-few'> {
  requireInOpenInterval({ confidenceLevel }, 0, 1);
  if (values.length < 2) return refusal('too-few');
  if (!values.every((value) => value > 0)) return refusal('not-positive');
  const { count, mean, variance } = summarizeSample(values.map(Math.log));
  const margin = studentTQuantile((1 + confidenceLevel) / 2, count - 1) * Math.sqrt(variance * (1 + 1 / count));
  return success({ median: Math.exp(mean), lower: Math.exp(mean - margin), upper: Math.exp(mean + margin) });
}
