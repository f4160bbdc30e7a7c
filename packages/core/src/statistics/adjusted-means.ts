import { refusal, success, type Outcome } from '../errors/index.js';
import type { Interval } from './describe-sample.js';
import { fUpperTail, studentTQuantile } from './distributions.js';
import { fitLinearModel, linearCombination, type LinearFit } from './linear-model.js';
import { pairInterval, type PairwiseInterval } from './pairwise-intervals.js';

export interface AdjustedComparison {
  readonly treatmentTest: { f: number; numeratorDf: number; denominatorDf: number; pValue: number };
  readonly residualVariance: number;
  readonly degreesOfFreedom: number;
  readonly adjustedMeans: readonly ({ mean: number; standardError: number } & Interval)[];
  /** All pairs, a < b, with Tukey's simultaneous intervals. */
  readonly contrasts: readonly PairwiseInterval[];
}
type Refusal = 'not-separable' | 'too-few' | 'no-spread';

/**
 * Linear model setup + block (missing cells allowed): adjusted means at equal weight of blocks, Tukey contrasts.
 * `setup` and `block` are indices from 0. Method: dummy coding, least squares; the treatment test is given the blocks.
 */
export function compareWithBlocks(
  y: readonly number[],
  setup: readonly number[],
  block: readonly number[],
  confidenceLevel: number,
): Outcome<AdjustedComparison, Refusal> {
  const blocks = Math.max(...block) + 1;
  const blockColumns = (b: number): number[] => Array.from({ length: blocks - 1 }, (_, k) => (b === k + 1 ? 1 : 0));
  const meanColumns = Array.from({ length: blocks - 1 }, () => 1 / blocks);
  return compareAdjusted(y, setup, block.map(blockColumns), meanColumns, confidenceLevel);
}

/** ANCOVA with one covariate and a common slope; adjusted means at the covariate's overall mean. */
export function compareWithCovariate(
  y: readonly number[],
  setup: readonly number[],
  covariate: readonly number[],
  confidenceLevel: number,
): Outcome<AdjustedComparison & { slope: number; slopeStandardError: number; covariateMean: number }, Refusal> {
  const covariateMean = covariate.reduce((sum, x) => sum + x, 0) / covariate.length;
  const centred = covariate.map((x) => [x - covariateMean]);
  const compared = compareAdjusted(y, setup, centred, [0], confidenceLevel);
  if (!compared.ok) return compared;
  const { fit, ...rest } = compared.value;
  const slope = linearCombination(
    fit,
    Array.from(fit.coefficients, (_, k) => (k === fit.coefficients.length - 1 ? 1 : 0)),
  );
  return success({ ...rest, slope: slope.estimate, slopeStandardError: slope.standardError, covariateMean });
}

function compareAdjusted(
  y: readonly number[],
  setup: readonly number[],
  extraColumns: readonly (readonly number[])[],
  extraAtMean: readonly number[],
  confidenceLevel: number,
): Outcome<AdjustedComparison & { fit: LinearFit }, Refusal> {
  const setups = Math.max(...setup) + 1;
  if (setups < 2) return refusal('too-few');
  const setupColumns = (s: number): number[] => Array.from({ length: setups }, (_, k) => (k === s ? 1 : 0));
  const full = fitLinearModel(
    y.map((_, i) => [...setupColumns(setup[i]!), ...extraColumns[i]!]),
    y,
  );
  if (!full.ok) return full;
  const reduced = fitLinearModel(
    y.map((_, i) => [1, ...extraColumns[i]!]),
    y,
  );
  if (!reduced.ok) return reduced;
  const fit = full.value;
  if (fit.residualVariance === 0) return refusal('no-spread');
  const numeratorDf = setups - 1;
  const f = (reduced.value.residualSumOfSquares - fit.residualSumOfSquares) / numeratorDf / fit.residualVariance;
  const t = studentTQuantile((1 + confidenceLevel) / 2, fit.degreesOfFreedom);
  const adjustedMeans = Array.from({ length: setups }, (_, s) => {
    const { estimate, standardError } = linearCombination(fit, [...setupColumns(s), ...extraAtMean]);
    return { mean: estimate, standardError, lower: estimate - t * standardError, upper: estimate + t * standardError };
  });
  const contrasts: PairwiseInterval[] = [];
  for (let a = 0; a < setups; a++)
    for (let b = a + 1; b < setups; b++) {
      const weights = Array.from(fit.coefficients, (_, k) => (k === a ? 1 : k === b ? -1 : 0));
      const { estimate, standardError } = linearCombination(fit, weights);
      contrasts.push(
        pairInterval({ a, b, difference: estimate, standardError }, fit.degreesOfFreedom, setups, confidenceLevel),
      );
    }
  return success({
    treatmentTest: {
      f,
      numeratorDf,
      denominatorDf: fit.degreesOfFreedom,
      pValue: fUpperTail(f, numeratorDf, fit.degreesOfFreedom),
    },
    residualVariance: fit.residualVariance,
    degreesOfFreedom: fit.degreesOfFreedom,
    adjustedMeans,
    contrasts,
    fit,
  });
}
