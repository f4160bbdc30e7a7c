import { requireInOpenInterval, requirePositive } from '../errors/index.js';
import { findRoot } from '../numeric/index.js';
import { noncentralTCdf, studentTQuantile } from './distributions.js';

export type ComparisonDesign = 'two-sample' | 'paired';

export interface PowerQuestion {
  /** The difference to be seen, in the unit of `standardDeviation`. */
  readonly difference: number;
  /** Within-setup standard deviation; of the differences for a paired design. */
  readonly standardDeviation: number;
  readonly design: ComparisonDesign;
  readonly significanceLevel?: number;
}

/**
 * Power of the two-sided t test with `n` runs per setup (pairs for a paired design).
 * Both rejection regions count, as the two-sided test has them.
 */
export function powerOfTTest(question: PowerQuestion, n: number): number {
  const { difference, standardDeviation, design, significanceLevel = 0.05 } = question;
  requirePositive({ standardDeviation, n: n - 1 });
  const groups = design === 'two-sample' ? 2 : 1;
  const degreesOfFreedom = groups * (n - 1);
  const noncentrality = (Math.abs(difference) / standardDeviation) * Math.sqrt(n / groups);
  const critical = studentTQuantile(1 - significanceLevel / 2, degreesOfFreedom);
  return (
    1 -
    noncentralTCdf(critical, degreesOfFreedom, noncentrality) +
    noncentralTCdf(-critical, degreesOfFreedom, noncentrality)
  );
}

/**
 * Runs per setup (or pairs) for the wanted power, not rounded; from the noncentral t, not its normal approximation.
 * Throws `not-positive` for a zero difference: no number of runs shows a difference of nothing.
 */
export function runsForPower(question: PowerQuestion, power = 0.8): number {
  requirePositive({ difference: Math.abs(question.difference) });
  requireInOpenInterval({ power }, 0, 1);
  // 2 is the fewest runs anyone can compare; below it the root is not a plan.
  if (powerOfTTest(question, 2) >= power) return 2;
  let upper = 4;
  while (powerOfTTest(question, upper) < power) upper *= 2;
  return findRoot((n) => powerOfTTest(question, n) - power, 2, upper, 1e-10);
}
