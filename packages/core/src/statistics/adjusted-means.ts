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
 * `setup` and `block` are indices from 0. Method: the blocks are swept out of values and setups before least squares (Frisch,
 * Waugh and Lovell), so that the work grows with the runs, not with the square of the blocks; the mean of a block and what
 * varies within it are independent, which gives the error of an adjusted mean. The treatment test is given the blocks.
 */
export function compareWithBlocks(
  y: readonly number[],
  setup: readonly number[],
  block: readonly number[],
  confidenceLevel: number,
): Outcome<AdjustedComparison, Refusal> {
  const setups = Math.max(...setup) + 1;
  const blocks = Math.max(...block) + 1;
  const freedom = y.length - blocks - (setups - 1);
  if (setups < 2 || freedom < 1) return refusal('too-few');
  const values = sweepBlocks(y, block, blocks);
  // The first setup is what the others are measured from.
  const dummies = Array.from({ length: setups - 1 }, (_, s) =>
    sweepBlocks(
      setup.map((k) => (k === s + 1 ? 1 : 0)),
      block,
      blocks,
    ),
  );
  // Fewer columns than runs are left over: more rows than the fit asks for is assured by the degrees of freedom.
  const swept = fitLinearModel(
    values.within.map((_, i) => dummies.map(({ within }) => within[i]!)),
    values.within,
  );
  if (!swept.ok) return swept;
  const scale = swept.value.residualSumOfSquares / freedom;
  const sumOfSquares = values.within.reduce((sum, value) => sum + value * value, 0);
  if (!(scale > ROUNDING * sumOfSquares)) return refusal('no-spread');
  const fit: LinearFit = { ...swept.value, degreesOfFreedom: freedom, residualVariance: scale };
  const numeratorDf = setups - 1;
  const f = (sumOfSquares - fit.residualSumOfSquares) / numeratorDf / scale;
  const t = studentTQuantile((1 + confidenceLevel) / 2, freedom);
  const meanOf = (means: readonly number[]): number => means.reduce((sum, mean) => sum + mean, 0) / blocks;
  const shares = dummies.map(({ means }) => meanOf(means));
  const meanOfBlocks = meanOf(values.means);
  const varianceOfBlocks = (scale * values.counts.reduce((sum, count) => sum + 1 / count, 0)) / blocks ** 2;
  const against = (s: number): number[] => dummies.map((_, k) => (k === s - 1 ? 1 : 0));
  const adjustedMeans = Array.from({ length: setups }, (_, s) => {
    const weights = against(s).map((weight, k) => weight - shares[k]!);
    const effect = linearCombination(fit, weights);
    const mean = meanOfBlocks + effect.estimate;
    const standardError = Math.sqrt(varianceOfBlocks + effect.standardError ** 2);
    return { mean, standardError, lower: mean - t * standardError, upper: mean + t * standardError };
  });
  const contrasts = pairsOf(setups).map(([a, b]) => {
    const { estimate, standardError } = linearCombination(
      fit,
      against(a).map((weight, k) => weight - against(b)[k]!),
    );
    return pairInterval({ a, b, difference: estimate, standardError }, freedom, setups, confidenceLevel);
  });
  const pValue = fUpperTail(f, numeratorDf, freedom);
  return success({
    treatmentTest: { f, numeratorDf, denominatorDf: freedom, pValue },
    residualVariance: scale,
    degreesOfFreedom: freedom,
    adjustedMeans,
    contrasts,
  });
}

/** Below this share of what varies, nothing is left over but rounding. */
const ROUNDING = 1e-24;

/** Values less the mean of their block; means and counts by block. */
function sweepBlocks(
  values: readonly number[],
  block: readonly number[],
  blocks: number,
): { within: number[]; means: number[]; counts: number[] } {
  const sums = new Array<number>(blocks).fill(0);
  const counts = new Array<number>(blocks).fill(0);
  values.forEach((value, i) => {
    sums[block[i]!]! += value;
    counts[block[i]!]! += 1;
  });
  const means = sums.map((sum, b) => sum / counts[b]!);
  return { within: values.map((value, i) => value - means[block[i]!]!), means, counts };
}

/** All pairs a < b of `count` things. */
function pairsOf(count: number): [number, number][] {
  return Array.from({ length: count }, (_, a) =>
    Array.from({ length: count - a - 1 }, (__, k): [number, number] => [a, a + 1 + k]),
  ).flat();
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
  const contrasts = pairsOf(setups).map(([a, b]) => {
    const weights = Array.from(fit.coefficients, (_, k) => (k === a ? 1 : k === b ? -1 : 0));
    const { estimate, standardError } = linearCombination(fit, weights);
    return pairInterval({ a, b, difference: estimate, standardError }, fit.degreesOfFreedom, setups, confidenceLevel);
  });
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
