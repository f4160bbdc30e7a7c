import { refusal, success, type Outcome } from '../errors/index.js';
import { summarizeSample } from './sample-summary.js';
import { studentizedRangeCdf, studentizedRangeQuantile } from './studentized-range.js';

export interface PairwiseInterval {
  /** Indices of the groups; the difference is mean(a) − mean(b). */
  readonly a: number;
  readonly b: number;
  readonly difference: number;
  readonly lower: number;
  readonly upper: number;
  readonly standardError: number;
  readonly degreesOfFreedom: number;
  readonly pValue: number;
}
type Groups = readonly (readonly number[])[];

/**
 * Games–Howell: simultaneous intervals for all pairs of means, variances and counts not assumed equal.
 * Fails:  `too-few` (< 2 values in a group), `no-spread` (a pair without any variance).
 * Source: Games & Howell (1976), J. Educ. Stat. 1(2), 113–125.
 */
export function gamesHowell(
  groups: Groups,
  confidenceLevel: number,
): Outcome<readonly PairwiseInterval[], 'no-spread' | 'too-few'> {
  if (groups.length < 2 || groups.some((values) => values.length < 2)) return refusal('too-few');
  const summaries = groups.map(summarizeSample);
  const pairs: PairwiseInterval[] = [];
  for (let a = 0; a < groups.length; a++)
    for (let b = a + 1; b < groups.length; b++) {
      const va = summaries[a]!.variance / summaries[a]!.count;
      const vb = summaries[b]!.variance / summaries[b]!.count;
      if (va + vb === 0) return refusal('no-spread');
      const shareA = va / (va + vb);
      const shareB = vb / (va + vb);
      const degreesOfFreedom = 1 / (shareA ** 2 / (summaries[a]!.count - 1) + shareB ** 2 / (summaries[b]!.count - 1));
      pairs.push(
        pairInterval(
          { a, b, difference: summaries[a]!.mean - summaries[b]!.mean, standardError: Math.sqrt(va + vb) },
          degreesOfFreedom,
          groups.length,
          confidenceLevel,
        ),
      );
    }
  return success(pairs);
}

/**
 * Tukey–Kramer: simultaneous intervals for all pairs, one pooled variance.
 * Source: Kramer (1956), Biometrics 12(3), 307–310.
 */
export function tukeyKramer(
  groups: Groups,
  confidenceLevel: number,
): Outcome<readonly PairwiseInterval[], 'no-spread' | 'too-few'> {
  if (groups.length < 2 || groups.some((values) => values.length < 2)) return refusal('too-few');
  const summaries = groups.map(summarizeSample);
  const degreesOfFreedom = groups.flat().length - groups.length;
  const pooled = summaries.reduce((sum, s) => sum + (s.count - 1) * s.variance, 0) / degreesOfFreedom;
  if (pooled === 0) return refusal('no-spread');
  const pairs: PairwiseInterval[] = [];
  for (let a = 0; a < groups.length; a++)
    for (let b = a + 1; b < groups.length; b++) {
      const standardError = Math.sqrt(pooled * (1 / summaries[a]!.count + 1 / summaries[b]!.count));
      const difference = summaries[a]!.mean - summaries[b]!.mean;
      pairs.push(pairInterval({ a, b, difference, standardError }, degreesOfFreedom, groups.length, confidenceLevel));
    }
  return success(pairs);
}

/** Interval and p-value of one of all contrasts among `groups` means, by the studentized range. */
export function pairInterval(
  pair: { a: number; b: number; difference: number; standardError: number },
  degreesOfFreedom: number,
  groups: number,
  confidenceLevel: number,
): PairwiseInterval {
  const margin =
    (studentizedRangeQuantile(confidenceLevel, groups, degreesOfFreedom) / Math.SQRT2) * pair.standardError;
  const q = (Math.abs(pair.difference) / pair.standardError) * Math.SQRT2;
  return {
    ...pair,
    lower: pair.difference - margin,
    upper: pair.difference + margin,
    degreesOfFreedom,
    pValue: Math.max(0, 1 - studentizedRangeCdf(q, groups, degreesOfFreedom)),
  };
}
