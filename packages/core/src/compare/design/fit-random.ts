import { success, type Outcome } from '../../errors/index.js';
import { mean } from '../../numeric/index.js';
import { fitClusterRobust, fitRandomIntercept, studentTQuantile, studentTTwoSided } from '../../statistics/index.js';
import type { DesignedRun } from './choose-design.js';
import type { DesignFit, FitRefusal } from './design-fit.js';
import { pairsBy, setupRow, weightsOfMean, type Combine } from './fit-rows.js';
import { robustWithin, withRobust } from './robust-pairs.js';
import { spreadDiffers } from './spread.js';

const MEAN_CONFIDENCE = 0.95;

export interface MixedModel extends Omit<DesignFit, 'unequalSpread'> {
  readonly residualVariance: number;
  readonly groupVariance: number;
  readonly remlLogLikelihood: number;
  /** What setups and covariate leave of each run, its outing still in it. */
  readonly residuals: readonly number[];
}

/** Setup (and covariate) with outings or groups as a random sample: REML, Satterthwaite degrees of freedom. */
export function mixedModel(
  runs: readonly DesignedRun[],
  clusters: readonly number[],
  setups: number,
  confidence: number,
): Outcome<MixedModel, FitRefusal> {
  const y = runs.map(({ value }) => value);
  const { rows, covariateMean, extra } = columnsOf(runs, setups);
  const fit = fitRandomIntercept(rows, y, clusters);
  if (!fit.ok) return fit;
  const { combine, coefficients, residualVariance, groupVariance, remlLogLikelihood } = fit.value;
  const slope = extra === 1 ? combine([...new Array<number>(setups).fill(0), 1]) : undefined;
  return success({
    pairs: pairsBy(combine, setups, extra, confidence),
    adjustedMeans: Array.from({ length: setups }, (_, s) => {
      const own = combine([...weightsOfMean(s, setups), ...(extra === 1 ? [0] : [])]);
      const margin = studentTQuantile((1 + MEAN_CONFIDENCE) / 2, own.degreesOfFreedom) * own.standardError;
      return {
        mean: own.estimate,
        standardError: own.standardError,
        df: own.degreesOfFreedom,
        lower: own.estimate - margin,
        upper: own.estimate + margin,
      };
    }),
    residualVariance,
    groupVariance,
    remlLogLikelihood,
    ...(slope && {
      covariate: {
        slope: slope.estimate,
        slopeStandardError: slope.standardError,
        slopePValue: studentTTwoSided(slope.estimate / slope.standardError, slope.degreesOfFreedom),
        covariateMean: covariateMean!,
      },
    }),
    residuals: rows.map((row, i) => y[i]! - row.reduce((sum, cell, k) => sum + cell * coefficients[k]!, 0)),
  });
}

/** The mixed model; where the setups scatter differently, with robust errors. */
export function fitRandom(
  runs: readonly DesignedRun[],
  clusters: readonly number[],
  setups: number,
  confidence: number,
): Outcome<DesignFit, FitRefusal> {
  const model = mixedModel(runs, clusters, setups, confidence);
  if (!model.ok) return model;
  const { residuals, remlLogLikelihood: _logLikelihood, ...rest } = model.value;
  const plain: DesignFit = { ...rest, unequalSpread: false };
  if (!spreadDiffers(runs, lessClusterMeans(residuals, clusters), setups)) return success(plain);
  const { rows, extra } = columnsOf(runs, setups);
  const robust =
    robustWithin(runs, clusters, setups, extra === 1) ??
    robustAcross(
      rows,
      runs.map(({ value }) => value),
      clusters,
    );
  return success(robust ? withRobust(plain, robust, setups, extra, confidence) : plain);
}

function columnsOf(
  runs: readonly DesignedRun[],
  setups: number,
): { rows: number[][]; covariateMean: number | undefined; extra: 0 | 1 } {
  const hasCovariate = runs.every(({ covariate }) => covariate !== undefined);
  const covariateMean = hasCovariate ? mean(runs.map(({ covariate }) => covariate!)) : undefined;
  return {
    rows: runs.map((run) => setupRow(run, setups, covariateMean)),
    covariateMean,
    extra: hasCovariate ? 1 : 0,
  };
}

function robustAcross(
  rows: readonly (readonly number[])[],
  y: readonly number[],
  clusters: readonly number[],
): Combine | undefined {
  const fit = fitClusterRobust(rows, y, clusters);
  return fit.ok ? fit.value.combine : undefined;
}

function lessClusterMeans(values: readonly number[], clusters: readonly number[]): number[] {
  const sums = new Map<number, { sum: number; count: number }>();
  values.forEach((value, i) => {
    const own = sums.get(clusters[i]!) ?? { sum: 0, count: 0 };
    sums.set(clusters[i]!, { sum: own.sum + value, count: own.count + 1 });
  });
  return values.map((value, i) => {
    const { sum, count } = sums.get(clusters[i]!)!;
    return value - sum / count;
  });
}
