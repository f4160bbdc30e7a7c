import { refusal, success, type Outcome } from '../errors/index.js';
import { mean } from '../numeric/index.js';
import type { FTest } from './analysis-of-variance.js';
import type { Interval } from './describe-sample.js';
import { fUpperTail, studentTQuantile, studentTTwoSided } from './distributions.js';
import { fitLinearModel, linearCombination, type LinearFit } from './linear-model.js';
import { pairInterval, type PairwiseInterval } from './pairwise-intervals.js';
import { summarizeSample } from './sample-summary.js';

export interface AdjustedComparison {
  readonly treatmentTest: { f: number; numeratorDf: number; denominatorDf: number; pValue: number };
  readonly residualVariance: number;
  readonly degreesOfFreedom: number;
  readonly adjustedMeans: readonly ({ mean: number; standardError: number } & Interval)[];
  /** All pairs, a < b, with Tukey's simultaneous intervals. */
  readonly contrasts: readonly PairwiseInterval[];
  /** What the model leaves of each value. */
  readonly residuals: readonly number[];
}
/** Change of the value per unit of the covariate. */
export interface CovariateSlope {
  readonly slope: number;
  readonly slopeStandardError: number;
  readonly slopePValue: number;
  readonly covariateMean: number;
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
  covariate?: readonly number[],
): Outcome<AdjustedComparison & { blockTest?: FTest; covariate?: CovariateSlope }, Refusal> {
  const setups = Math.max(...setup) + 1;
  const blocks = Math.max(...block) + 1;
  const freedom = y.length - blocks - (setups - 1) - (covariate ? 1 : 0);
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
  const covariateMean = covariate ? mean(covariate) : 0;
  const slopes = covariate
    ? [
        sweepBlocks(
          covariate.map((x) => x - covariateMean),
          block,
          blocks,
        ),
      ]
    : [];
  // A condition that is one for all of a block says nothing within it; what is left of it is rounding.
  const covariateSpread = covariate?.reduce((sum, x) => sum + (x - covariateMean) ** 2, 0) ?? 0;
  if (slopes.some(({ within }) => within.reduce((sum, x) => sum + x * x, 0) <= ROUNDING_OF_COVARIATE * covariateSpread))
    return refusal('not-separable');
  const columns = [...dummies, ...slopes];
  // Fewer columns than runs are left over: more rows than the fit asks for is assured by the degrees of freedom.
  const swept = fitLinearModel(
    values.within.map((_, i) => columns.map(({ within }) => within[i]!)),
    values.within,
  );
  if (!swept.ok) return swept;
  const scale = swept.value.residualSumOfSquares / freedom;
  const sumOfSquares = values.within.reduce((sum, value) => sum + value * value, 0);
  if (!(scale > ROUNDING * sumOfSquares)) return refusal('no-spread');
  const fit: LinearFit = { ...swept.value, degreesOfFreedom: freedom, residualVariance: scale };
  const numeratorDf = setups - 1;
  const withoutSetups = residualOnCovariate(values.within, slopes[0]?.within);
  const f = (withoutSetups - fit.residualSumOfSquares) / numeratorDf / scale;
  const t = studentTQuantile((1 + confidenceLevel) / 2, freedom);
  const meanOf = (means: readonly number[]): number => means.reduce((sum, mean) => sum + mean, 0) / blocks;
  const shares = columns.map(({ means }) => meanOf(means));
  const meanOfBlocks = meanOf(values.means);
  const varianceOfBlocks = (scale * values.counts.reduce((sum, count) => sum + 1 / count, 0)) / blocks ** 2;
  const against = (s: number): number[] => columns.map((_, k) => (k === s - 1 ? 1 : 0));
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
  const slope = linearCombination(
    fit,
    columns.map((_, k) => (k === setups - 1 ? 1 : 0)),
  );
  const blockTest = covariate ? undefined : testBlocks(y, setup, fit, blocks);
  return success({
    treatmentTest: { f, numeratorDf, denominatorDf: freedom, pValue },
    residualVariance: scale,
    degreesOfFreedom: freedom,
    adjustedMeans,
    contrasts,
    residuals: values.within.map(
      (value, i) => value - columns.reduce((sum, { within }, k) => sum + within[i]! * fit.coefficients[k]!, 0),
    ),
    ...(covariate && { covariate: describeSlope(slope, freedom, covariateMean) }),
    ...(blockTest && { blockTest }),
  });
}

function residualOnCovariate(within: readonly number[], x: readonly number[] | undefined): number {
  const total = within.reduce((sum, value) => sum + value * value, 0);
  const xx = x?.reduce((sum, value) => sum + value * value, 0) ?? 0;
  if (!x || !(xx > 0)) return total;
  return total - within.reduce((sum, value, i) => sum + value * x[i]!, 0) ** 2 / xx;
}

/** Do the blocks differ, given the setups? */
function testBlocks(y: readonly number[], setup: readonly number[], fit: LinearFit, blocks: number): FTest | undefined {
  if (blocks < 2) return undefined;
  const groups = [...new Set(setup)].map((s) => summarizeSample(y.filter((_, i) => setup[i] === s)));
  const withinSetups = groups.reduce((sum, { variance, count }) => sum + (count > 1 ? variance * (count - 1) : 0), 0);
  const numeratorDf = blocks - 1;
  const f = (withinSetups - fit.residualSumOfSquares) / numeratorDf / fit.residualVariance;
  return {
    f,
    numeratorDf,
    denominatorDf: fit.degreesOfFreedom,
    pValue: fUpperTail(f, numeratorDf, fit.degreesOfFreedom),
  };
}

function describeSlope(
  { estimate, standardError }: { estimate: number; standardError: number },
  degreesOfFreedom: number,
  covariateMean: number,
): CovariateSlope {
  return {
    slope: estimate,
    slopeStandardError: standardError,
    slopePValue: studentTTwoSided(estimate / standardError, degreesOfFreedom),
    covariateMean,
  };
}

/** Below this share of what varies, nothing is left over but rounding. */
const ROUNDING = 1e-24;
const ROUNDING_OF_COVARIATE = 1e-12;

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
export function pairsOf(count: number): [number, number][] {
  return Array.from({ length: count }, (_, a) =>
    Array.from({ length: count - a - 1 }, (__, k): [number, number] => [a, a + 1 + k]),
  ).flat();
}

/** ANCOVA with one covariate and a common slope; adjusted means at the covariate's overall mean; a test of equal slopes. */
export function compareWithCovariate(
  y: readonly number[],
  setup: readonly number[],
  covariate: readonly number[],
  confidenceLevel: number,
): Outcome<AdjustedComparison & CovariateSlope & { slopesDiffer?: FTest; rSquared: number }, Refusal> {
  const setups = Math.max(...setup) + 1;
  if (setups < 2) return refusal('too-few');
  const covariateMean = mean(covariate);
  const x = covariate.map((value) => value - covariateMean);
  const dummies = (s: number): number[] => Array.from({ length: setups }, (_, k) => (k === s ? 1 : 0));
  const rows = y.map((_, i) => [...dummies(setup[i]!), x[i]!]);
  const full = fitLinearModel(rows, y);
  if (!full.ok) return full;
  const reduced = fitLinearModel(
    x.map((value) => [1, value]),
    y,
  );
  if (!reduced.ok) return reduced;
  const fit = full.value;
  if (fit.residualVariance === 0) return refusal('no-spread');
  const numeratorDf = setups - 1;
  const f = (reduced.value.residualSumOfSquares - fit.residualSumOfSquares) / numeratorDf / fit.residualVariance;
  const t = studentTQuantile((1 + confidenceLevel) / 2, fit.degreesOfFreedom);
  const meanOfY = mean(y);
  const total = y.reduce((sum, value) => sum + (value - meanOfY) ** 2, 0);
  return success({
    treatmentTest: {
      f,
      numeratorDf,
      denominatorDf: fit.degreesOfFreedom,
      pValue: fUpperTail(f, numeratorDf, fit.degreesOfFreedom),
    },
    residualVariance: fit.residualVariance,
    degreesOfFreedom: fit.degreesOfFreedom,
    adjustedMeans: Array.from({ length: setups }, (_, s) => {
      const { estimate, standardError } = linearCombination(fit, [...dummies(s), 0]);
      return {
        mean: estimate,
        standardError,
        lower: estimate - t * standardError,
        upper: estimate + t * standardError,
      };
    }),
    contrasts: pairsOf(setups).map(([a, b]) => {
      const { estimate, standardError } = linearCombination(fit, [
        ...dummies(a).map((weight, k) => weight - dummies(b)[k]!),
        0,
      ]);
      return pairInterval({ a, b, difference: estimate, standardError }, fit.degreesOfFreedom, setups, confidenceLevel);
    }),
    residuals: rows.map((row, i) => y[i]! - row.reduce((sum, cell, k) => sum + cell * fit.coefficients[k]!, 0)),
    ...describeSlope(linearCombination(fit, [...dummies(-1), 1]), fit.degreesOfFreedom, covariateMean),
    rSquared: 1 - fit.residualSumOfSquares / total,
    ...testSlopes(y, setup, x, fit, setups),
  });
}

/** Has each setup a slope of its own? Left out where its runs do not carry one. */
function testSlopes(
  y: readonly number[],
  setup: readonly number[],
  x: readonly number[],
  common: LinearFit,
  setups: number,
): { slopesDiffer?: FTest } {
  const own = fitLinearModel(
    y.map((_, i) =>
      Array.from({ length: 2 * setups }, (_c, k) => (k % setups !== setup[i] ? 0 : k < setups ? 1 : x[i]!)),
    ),
    y,
  );
  if (!own.ok || !(own.value.residualVariance > 0)) return {};
  const numeratorDf = setups - 1;
  const f = (common.residualSumOfSquares - own.value.residualSumOfSquares) / numeratorDf / own.value.residualVariance;
  const denominatorDf = own.value.degreesOfFreedom;
  return { slopesDiffer: { f, numeratorDf, denominatorDf, pValue: fUpperTail(f, numeratorDf, denominatorDf) } };
}
