import { findRoot } from '../numeric/index.js';
import {
  chiSquaredQuantile,
  normalQuantile,
  powerOfTTest,
  studentTQuantile,
  summarizeSample,
  type Interval,
} from '../statistics/index.js';

export interface Repeats {
  readonly n: number;
  readonly mean: number;
  readonly sd: number;
  /** 95 % of the standard deviation, by chi-squared. */
  readonly sdInterval: Interval;
  /** Mean ± this holds the true mean 95 times in 100, by t. */
  readonly plusMinus: number;
  /** Two runs alike differ by less than this 95 times in 100: 1.96·√2·s. */
  readonly repeatability: number;
  /** Differences between two setups that runs with this scatter show with a power of 80 %. */
  readonly detectable: readonly { readonly runs: number; readonly difference: number }[];
}

const POWER = 0.8;
const AT_RUNS = [3, 5, 10] as const;
const MAX_SDS = 50;

/**
 * How repeatable a figure is between runs of one setup on one course: within-setup standard deviation, repeatability
 * coefficient, smallest detectable difference at 3, 5 and 10 runs each (two-sided t test at 5 %, noncentral t).
 *
 * Shapes: the values of the runs, in one unit. Undefined with fewer than two, or where all are alike.
 * Source: Bland & Altman (1986), Lancet 327, 307–310 (repeatability coefficient).
 */
export function repeatsOf(values: readonly number[]): Repeats | undefined {
  if (values.length < 2) return undefined;
  const { count, mean, variance } = summarizeSample(values);
  if (!(variance > 0)) return undefined;
  const sd = Math.sqrt(variance);
  return {
    n: count,
    mean,
    sd,
    sdInterval: {
      lower: sd * Math.sqrt((count - 1) / chiSquaredQuantile(0.975, count - 1)),
      upper: sd * Math.sqrt((count - 1) / chiSquaredQuantile(0.025, count - 1)),
    },
    plusMinus: (studentTQuantile(0.975, count - 1) * sd) / Math.sqrt(count),
    repeatability: normalQuantile(0.975) * Math.SQRT2 * sd,
    detectable: AT_RUNS.map((runs) => ({
      runs,
      difference:
        sd *
        findRoot(
          (d) => powerOfTTest({ difference: d, standardDeviation: 1, design: 'two-sample' }, runs) - POWER,
          1e-6,
          MAX_SDS,
          1e-6,
        ),
    })),
  };
}
