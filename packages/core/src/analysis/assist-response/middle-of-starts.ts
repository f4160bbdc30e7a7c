import { median, scaledMedianAbsoluteDeviation } from '../../numeric/index.js';
import type { Contribution } from '../figure.js';

/** Standard error of a median of normal values, in standard errors of their mean. */
const MEDIAN_FACTOR = 1.2533;
/** With so many starts a few that were otherwise are told from the rest. */
const MANY = 5;
/** So many standard deviations from the middle, a start was otherwise. */
const OTHERWISE = 5;

/** Standard deviation of the starts: with many of them by the median deviation, so that a few on another slope do not count as scatter. */
function spreadOf(values: readonly number[]): number {
  const n = values.length;
  if (n < 2) return 0;
  if (n >= MANY) return scaledMedianAbsoluteDeviation(values)! * (n / (n - 0.8));
  const mean = values.reduce((sum, one) => sum + one, 0) / n;
  return Math.sqrt(values.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (n - 1));
}

/**
 * Middle of what starts gave, those that were otherwise, and what its scatter leaves open. `own`: what the samples of one start leave open.
 * The scatter between starts has the time step in it; with few starts it may hide it, and then the step is known.
 */
export function middleOf(
  values: readonly number[],
  own: number,
): {
  readonly value: number;
  readonly others: readonly number[];
  readonly scatter: Pick<Contribution, 'standardUncertainty' | 'degreesOfFreedom'>;
} {
  const value = median(values)!;
  const spread = MEDIAN_FACTOR * spreadOf(values);
  return {
    value,
    others: values.filter((one) => Math.abs(one - value) > OTHERWISE * Math.max(own, spread)),
    scatter: {
      standardUncertainty: Math.max(own, spread) / Math.sqrt(values.length),
      ...(spread > own && { degreesOfFreedom: values.length - 1 }),
    },
  };
}
