import { requireInOpenInterval } from '../errors/index.js';
import { scaledMedianAbsoluteDeviation } from '../numeric/index.js';
import { studentTQuantile } from './distributions.js';
import { summarizeSample } from './sample-summary.js';

export interface Interval {
  readonly lower: number;
  readonly upper: number;
}

export interface SampleDescription {
  readonly n: number;
  readonly mean: number;
  /** Present for n ≥ 2. */
  readonly standardDeviation?: number;
  readonly coefficientOfVariation?: number;
  readonly median: number;
  /** Median absolute deviation × 1.4826. */
  readonly medianAbsoluteDeviation: number;
  readonly quartiles: readonly [number, number, number];
  readonly intervalOfMean?: Interval;
  /** Present when every value is positive (and n ≥ 2 for the interval). */
  readonly geometricMean?: number;
  readonly intervalOfGeometricMean?: Interval;
}

/** Standard error of the mean, s/√n, in the unit of the values; undefined for fewer than two. */
export function standardErrorOfMean({
  n,
  standardDeviation,
}: Pick<SampleDescription, 'n'> & { readonly standardDeviation?: number | undefined }): number | undefined {
  return standardDeviation === undefined ? undefined : standardDeviation / Math.sqrt(n);
}

/** Quantile by linear interpolation of order statistics at 1 + (n − 1)p ("type 7"). Source: Hyndman & Fan (1996). */
export function sampleQuantile(values: ArrayLike<number>, p: number): number {
  const sorted = Float64Array.from(values).sort();
  const position = (sorted.length - 1) * p;
  const below = Math.floor(position);
  const lower = sorted[below]!;
  return lower + (position - below) * ((sorted[below + 1] ?? lower) - lower);
}

/** Student's t interval of the mean. Needs n ≥ 2. */
export function intervalOfMean(values: ArrayLike<number>, confidenceLevel: number): Interval {
  requireInOpenInterval({ confidenceLevel }, 0, 1);
  const { count, mean, variance } = summarizeSample(values);
  const margin = studentTQuantile((1 + confidenceLevel) / 2, count - 1) * Math.sqrt(variance / count);
  return { lower: mean - margin, upper: mean + margin };
}

/** The usual description of one setup's runs. Values in a unit U, results in U; needs n ≥ 1. */
export function describeSample(values: readonly number[], confidenceLevel = 0.95): SampleDescription {
  const { count, mean, variance } = summarizeSample(values);
  const positive = values.every((value) => value > 0);
  const logs = positive ? values.map(Math.log) : [];
  const logInterval = positive && count > 1 ? intervalOfMean(logs, confidenceLevel) : undefined;
  return {
    n: count,
    mean,
    median: sampleQuantile(values, 0.5),
    medianAbsoluteDeviation: scaledMedianAbsoluteDeviation(values)!,
    quartiles: [sampleQuantile(values, 0.25), sampleQuantile(values, 0.5), sampleQuantile(values, 0.75)],
    ...(count > 1 && {
      standardDeviation: Math.sqrt(variance),
      ...(mean !== 0 && { coefficientOfVariation: Math.sqrt(variance) / Math.abs(mean) }),
      intervalOfMean: intervalOfMean(values, confidenceLevel),
    }),
    ...(positive && { geometricMean: Math.exp(summarizeSample(logs).mean) }),
    ...(logInterval && {
      intervalOfGeometricMean: { lower: Math.exp(logInterval.lower), upper: Math.exp(logInterval.upper) },
    }),
  };
}
