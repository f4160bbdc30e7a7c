import { requireAtLeast, requireFinite } from '../errors/index.js';

export interface SampleSummary {
  readonly count: number;
  readonly mean: number;
  /** Divisor n − 1; 0 for a single value. */
  readonly variance: number;
}

/** Count, mean and sample variance by running deviations. Throws `too-short` (empty) or `not-finite`. */
export function summarizeSample(values: ArrayLike<number>): SampleSummary {
  requireAtLeast(values.length, 1, 'sample');
  let mean = 0;
  let squares = 0;
  for (let k = 0; k < values.length; k++) {
    const value = values[k]!;
    requireFinite({ value });
    const deviation = value - mean;
    mean += deviation / (k + 1);
    squares += deviation * (value - mean);
  }
  return { count: values.length, mean, variance: values.length > 1 ? squares / (values.length - 1) : 0 };
}
