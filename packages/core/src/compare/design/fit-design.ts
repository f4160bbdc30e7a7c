import { refusal, success, type Outcome } from '../../errors/index.js';
import {
  brownForsythe,
  compareWithBlocks,
  compareWithCovariate,
  fitClusterRobust,
  gamesHowell,
  studentTQuantile,
  summarizeSample,
  welchTInterval,
  type AdjustedComparison,
  type PairwiseInterval,
} from '../../statistics/index.js';
import type { ChosenDesign, DesignedRun } from './choose-design.js';
import type { DesignFit, FitRefusal } from './design-fit.js';
import { fitRandom } from './fit-random.js';
import { setupRow } from './fit-rows.js';
import { robustWithin, withRobust } from './robust-pairs.js';
import { spreadDiffers } from './spread.js';

/**
 * The comparison that a design calls for, on the values given; confidence for all pairs together.
 * Fails: `too-few`, `no-spread`, `not-separable` (always for a confounded design).
 */
export function fitDesign(
  { design, clusters = [] }: ChosenDesign,
  runs: readonly DesignedRun[],
  setups: number,
  confidence: number,
): Outcome<DesignFit, FitRefusal> {
  switch (design) {
    case 'independent':
      return fitMeans(valuesBySetup(runs, setups), confidence);
    case 'covariate':
      return fitCovariate(runs, setups, confidence);
    case 'blocked':
      return fitBlocked(runs, clusters, setups, confidence);
    case 'nested':
      return fitNested(runs, clusters, setups, confidence);
    case 'mixed':
    case 'grouped':
      return fitRandom(runs, clusters, setups, confidence);
    case 'confounded':
      return refusal('not-separable');
  }
}

function valuesBySetup(runs: readonly DesignedRun[], setups: number): number[][] {
  return Array.from({ length: setups }, (_, s) => runs.filter(({ setup }) => setup === s).map(({ value }) => value));
}

/** Welch, or Games–Howell, on groups of values. */
function fitMeans(groups: readonly (readonly number[])[], confidence: number): Outcome<DesignFit, FitRefusal> {
  const pairs = welchPairs(groups, confidence);
  if (!pairs.ok) return pairs;
  return success({
    pairs: pairs.value,
    adjustedMeans: groups.map((values) => {
      const { mean, variance, count } = summarizeSample(values);
      const margin = studentTQuantile((1 + MEAN_CONFIDENCE) / 2, count - 1) * Math.sqrt(variance / count);
      return {
        mean,
        standardError: Math.sqrt(variance / count),
        df: count - 1,
        lower: mean - margin,
        upper: mean + margin,
      };
    }),
    unequalSpread: false,
  });
}
const MEAN_CONFIDENCE = 0.95;

function welchPairs(
  groups: readonly (readonly number[])[],
  confidence: number,
): Outcome<readonly PairwiseInterval[], FitRefusal> {
  if (groups.length !== 2) return gamesHowell(groups, confidence);
  const welch = welchTInterval(summarizeSample(groups[0]!), summarizeSample(groups[1]!), confidence);
  if (!welch.ok) return welch;
  const { estimate, t: _t, ...rest } = welch.value;
  return success([{ a: 0, b: 1, difference: estimate, ...rest }]);
}

function fitCovariate(
  runs: readonly DesignedRun[],
  setups: number,
  confidence: number,
): Outcome<DesignFit, FitRefusal> {
  const y = runs.map(({ value }) => value);
  const covariate = runs.map((run) => run.covariate!);
  const fit = compareWithCovariate(
    y,
    runs.map(({ setup }) => setup),
    covariate,
    confidence,
  );
  if (!fit.ok) return fit;
  const { slope, slopeStandardError, slopePValue, covariateMean, slopesDiffer, residuals } = fit.value;
  const plain: DesignFit = {
    ...ofAdjusted(fit.value),
    covariate: { slope, slopeStandardError, slopePValue, covariateMean },
    ...(slopesDiffer && { slopesDiffer }),
  };
  if (!spreadDiffers(runs, residuals, setups)) return success(plain);
  const robust = fitClusterRobust(
    runs.map((run) => setupRow(run, setups, covariateMean)),
    y,
    runs.map((_, i) => i),
  );
  return success(robust.ok ? withRobust(plain, robust.value.combine, setups, 1, confidence) : plain);
}

function fitBlocked(
  runs: readonly DesignedRun[],
  clusters: readonly number[],
  setups: number,
  confidence: number,
): Outcome<DesignFit, FitRefusal> {
  const hasCovariate = runs.every(({ covariate }) => covariate !== undefined);
  const fit = compareWithBlocks(
    runs.map(({ value }) => value),
    runs.map(({ setup }) => setup),
    clusters,
    confidence,
    hasCovariate ? runs.map(({ covariate }) => covariate!) : undefined,
  );
  if (!fit.ok) return fit;
  const { covariate, blockTest, residuals } = fit.value;
  const plain: DesignFit = {
    ...ofAdjusted(fit.value),
    ...(covariate && { covariate }),
    ...(blockTest && { blockTest }),
  };
  if (!spreadDiffers(runs, residuals, setups)) return success(plain);
  const combine = robustWithin(runs, clusters, setups, hasCovariate);
  return success(combine ? withRobust(plain, combine, setups, hasCovariate ? 1 : 0, confidence) : plain);
}

/** Outings that hold one setup each: the outing is the unit. */
function fitNested(
  runs: readonly DesignedRun[],
  clusters: readonly number[],
  setups: number,
  confidence: number,
): Outcome<DesignFit, FitRefusal> {
  const means = outingMeans(runs, clusters, setups);
  const isComplete = means.every((own) => own.length > 1);
  if (means.flat().length === runs.length) return isComplete ? fitMeans(means, confidence) : refusal('too-few');
  const spread = isComplete ? brownForsythe(means) : undefined;
  if (spread?.ok && means.every((own) => own.length > 3) && spread.value.pValue < SPREAD_OF_OUTINGS) {
    const fit = fitMeans(means, confidence);
    if (fit.ok) return success({ ...fit.value, unequalSpread: true });
  }
  return fitRandom(runs, clusters, setups, confidence);
}
const SPREAD_OF_OUTINGS = 0.01;

function outingMeans(runs: readonly DesignedRun[], clusters: readonly number[], setups: number): number[][] {
  const means: number[][] = Array.from({ length: setups }, () => []);
  const members = new Map<string, DesignedRun[]>();
  runs.forEach((run, i) => {
    const cell = `${clusters[i]!} ${run.setup}`;
    members.set(cell, [...(members.get(cell) ?? []), run]);
  });
  for (const own of members.values())
    means[own[0]!.setup]!.push(own.reduce((sum, { value }) => sum + value, 0) / own.length);
  return means;
}

function ofAdjusted(fit: AdjustedComparison): DesignFit {
  return {
    pairs: fit.contrasts,
    adjustedMeans: fit.adjustedMeans.map((mean) => ({ ...mean, df: fit.degreesOfFreedom })),
    residualVariance: fit.residualVariance,
    treatmentTest: fit.treatmentTest,
    unequalSpread: false,
  };
}
