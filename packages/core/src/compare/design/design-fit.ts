import type { CovariateSlope, FTest, Interval, PairwiseInterval } from '../../statistics/index.js';

export type AdjustedMean = { readonly mean: number; readonly standardError: number; readonly df: number } & Interval;
/** A design worked out on one scale: the values, or their logarithms. */
export interface DesignFit {
  /** All pairs a < b; simultaneous with three setups or more. */
  readonly pairs: readonly PairwiseInterval[];
  readonly adjustedMeans: readonly AdjustedMean[];
  readonly residualVariance?: number;
  /** Of outings or groups, where they are taken as a random sample. */
  readonly groupVariance?: number;
  readonly covariate?: CovariateSlope;
  readonly slopesDiffer?: FTest;
  readonly treatmentTest?: FTest;
  readonly blockTest?: FTest;
  /** The setups' spread differs, and the intervals allow for it. */
  readonly unequalSpread: boolean;
}
export type FitRefusal = 'no-spread' | 'not-separable' | 'too-few';
