import { refusal, requirePositive, success, type Outcome } from '../errors/index.js';
import { studentTCdf } from './distributions.js';
import type { SampleSummary } from './sample-summary.js';
import { welchTInterval, type MeanDifference } from './welch-t-interval.js';

export interface EquivalenceTest {
  readonly pLower: number;
  readonly pUpper: number;
  readonly pValue: number;
  readonly interval90: { readonly lower: number; readonly upper: number };
  readonly withinMargin: boolean;
}

/**
 * Two one-sided tests of an estimated difference against ±margin at the 5 % level, with the 90 % interval.
 * Source: Schuirmann (1987), J. Pharmacokinet. Biopharm. 15(6), 657–680.
 */
export function equivalenceOfDifference(
  difference: Pick<MeanDifference, 'degreesOfFreedom' | 'estimate' | 'standardError'>,
  interval90: { lower: number; upper: number },
  margin: number,
): EquivalenceTest {
  requirePositive({ margin });
  const { estimate, standardError, degreesOfFreedom } = difference;
  const pLower = studentTCdf(-(estimate + margin) / standardError, degreesOfFreedom);
  const pUpper = studentTCdf((estimate - margin) / standardError, degreesOfFreedom);
  const pValue = Math.max(pLower, pUpper);
  return { pLower, pUpper, pValue, interval90, withinMargin: pValue < 0.05 };
}

/** Two one-sided Welch tests of mean(a) − mean(b) against ±margin. */
export function welchEquivalence(
  a: SampleSummary,
  b: SampleSummary,
  margin: number,
): Outcome<EquivalenceTest, 'no-spread' | 'too-few'> {
  const interval = welchTInterval(a, b, 0.9);
  if (!interval.ok) return refusal(interval.reason);
  return success(equivalenceOfDifference(interval.value, interval.value, margin));
}
