import { fitRandomIntercept, normalQuantile, summarizeSample } from '../statistics/index.js';
import type { SetupRepeatability, SetupRuns } from './comparison.js';

/**
 * How far runs of one setup repeat, pooled over setups: one-way analysis of variance, and REML beside it.
 * Left out where no setup has two runs, or nothing is left over.
 * Source: Bland & Altman (1986), Lancet 327, 307–310 (repeatability coefficient); Searle (1971), Linear Models, ch. 10 (n₀).
 */
export function repeatabilityOfSetups(setups: readonly SetupRuns[]): { repeatability?: SetupRepeatability } {
  const groups = setups.map(({ runs }) => runs.map(({ value }) => value));
  const summaries = groups.map(summarizeSample);
  const n = groups.flat().length;
  const k = groups.length;
  const within = summaries.reduce((sum, s) => sum + (s.count > 1 ? (s.count - 1) * s.variance : 0), 0) / (n - k);
  if (!(within > 0) || k < 2) return {};
  const grandMean = summarizeSample(groups.flat()).mean;
  const between = summaries.reduce((sum, s) => sum + s.count * (s.mean - grandMean) ** 2, 0) / (k - 1);
  const n0 = (n - summaries.reduce((sum, s) => sum + s.count ** 2, 0) / n) / (k - 1);
  const betweenVariance = Math.max(0, (between - within) / n0);
  const withinSd = Math.sqrt(within);
  const reml = fitRandomIntercept(
    groups.flat().map(() => [1]),
    groups.flat(),
    groups.flatMap((values, g) => values.map(() => g)),
  );
  return {
    repeatability: {
      withinSd,
      betweenVariance,
      intraclassCorrelation: betweenVariance / (betweenVariance + within),
      coefficient: normalQuantile(0.975) * Math.SQRT2 * withinSd,
      ...(reml.ok && {
        reml: {
          withinSd: Math.sqrt(reml.value.residualVariance),
          betweenSd: Math.sqrt(reml.value.groupVariance),
        },
      }),
    },
  };
}
