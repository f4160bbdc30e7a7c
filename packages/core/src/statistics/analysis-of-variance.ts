import { refusal, success, type Outcome } from '../errors/index.js';
import { chiSquaredUpperTail, fUpperTail } from './distributions.js';
import { midRanks } from './ranks.js';
import { summarizeSample } from './sample-summary.js';

export interface FTest {
  readonly f: number;
  readonly numeratorDf: number;
  readonly denominatorDf: number;
  readonly pValue: number;
}
type Groups = readonly (readonly number[])[];
type Refusal = 'no-spread' | 'too-few';

/** One-way analysis of variance, equal variances assumed. Needs ≥ 2 groups of ≥ 2 values. */
export function oneWayAnova(
  groups: Groups,
): Outcome<FTest & { sumOfSquaresBetween: number; sumOfSquaresWithin: number }, Refusal> {
  if (groups.length < 2 || groups.some((values) => values.length < 2)) return refusal('too-few');
  const summaries = groups.map(summarizeSample);
  const grandMean = summarizeSample(groups.flat()).mean;
  const total = groups.flat().length;
  const sumOfSquaresBetween = summaries.reduce((sum, s) => sum + s.count * (s.mean - grandMean) ** 2, 0);
  const sumOfSquaresWithin = summaries.reduce((sum, s) => sum + (s.count - 1) * s.variance, 0);
  if (sumOfSquaresWithin === 0) return refusal('no-spread');
  const numeratorDf = groups.length - 1;
  const denominatorDf = total - groups.length;
  const f = sumOfSquaresBetween / numeratorDf / (sumOfSquaresWithin / denominatorDf);
  return success({
    f,
    numeratorDf,
    denominatorDf,
    pValue: fUpperTail(f, numeratorDf, denominatorDf),
    sumOfSquaresBetween,
    sumOfSquaresWithin,
  });
}

/** Welch's analysis of variance, variances not assumed equal. Source: Welch (1951), Biometrika 38(3–4), 330–336. */
export function welchAnova(groups: Groups): Outcome<FTest, Refusal> {
  if (groups.length < 2 || groups.some((values) => values.length < 2)) return refusal('too-few');
  const summaries = groups.map(summarizeSample);
  if (summaries.some((s) => s.variance === 0)) return refusal('no-spread');
  const weights = summaries.map((s) => s.count / s.variance);
  const totalWeight = weights.reduce((sum, w) => sum + w, 0);
  const weightedMean = summaries.reduce((sum, s, k) => sum + weights[k]! * s.mean, 0) / totalWeight;
  const k = groups.length;
  const between = summaries.reduce((sum, s, i) => sum + weights[i]! * (s.mean - weightedMean) ** 2, 0) / (k - 1);
  const lambda = summaries.reduce((sum, s, i) => sum + (1 - weights[i]! / totalWeight) ** 2 / (s.count - 1), 0);
  const f = between / (1 + (2 * (k - 2) * lambda) / (k * k - 1));
  const denominatorDf = (k * k - 1) / (3 * lambda);
  return success({ f, numeratorDf: k - 1, denominatorDf, pValue: fUpperTail(f, k - 1, denominatorDf) });
}

/** Kruskal–Wallis rank test with the correction for ties. */
export function kruskalWallis(
  groups: Groups,
): Outcome<{ h: number; degreesOfFreedom: number; pValue: number }, Refusal> {
  if (groups.length < 2 || groups.some((values) => values.length === 0)) return refusal('too-few');
  const { ranks, tieSum } = midRanks(groups.flat());
  const n = ranks.length;
  const tieCorrection = 1 - tieSum / (n ** 3 - n);
  if (tieCorrection === 0) return refusal('no-spread');
  let offset = 0;
  let sum = 0;
  for (const values of groups) {
    const rankSum = ranks.slice(offset, offset + values.length).reduce((total, rank) => total + rank, 0);
    sum += rankSum ** 2 / values.length;
    offset += values.length;
  }
  const h = ((12 / (n * (n + 1))) * sum - 3 * (n + 1)) / tieCorrection;
  return success({ h, degreesOfFreedom: groups.length - 1, pValue: chiSquaredUpperTail(h, groups.length - 1) });
}
