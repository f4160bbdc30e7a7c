import { requireAtLeast, requireInOpenInterval, requirePositive } from '../errors/index.js';
import { findRoot } from '../numeric/index.js';
import { noncentralTCdf, studentizedRangeQuantile, studentTQuantile } from '../statistics/index.js';

export interface PlanDesign {
  /** Setups compared, 2 to 6. */
  readonly setups: number;
  /** Each setup once in every round of an outing: what is common to a round cancels. */
  readonly isBlocked: boolean;
  /** Outings that the rounds are shared out over; absent: one a round. What an outing has in common costs a degree of freedom. */
  readonly outings?: number;
  /** Scatter between runs of one setup, in the unit of the difference. */
  readonly standardDeviation: number;
  readonly significanceLevel?: number;
}

/** More runs than anyone rides; a plan beyond it is answered by "more than". */
export const MAX_RUNS = 400;
const SEARCH_LIMIT = 1e7;

/**
 * Probability that a true difference between two of the setups is seen, with `runs` runs of each.
 *
 * Units:  `difference` and `standardDeviation` in one unit (or both relative).
 * Method: the test that the verdict makes: setup + outing by least squares in rounds, k·n − outings − (k−1) degrees of freedom (one
 *         round an outing: the paired test), else the pooled two-sample one with k(n−1); noncentral t, both tails. With more than two
 *         setups the critical value is Tukey's, for all pairs together.
 * Fails:  throws `too-short` below two setups, `not-positive` for runs ≤ 1 or a spread ≤ 0.
 */
export function powerOfPlan(design: PlanDesign, difference: number, runs: number): number {
  const { setups, standardDeviation, significanceLevel = 0.05 } = design;
  requireAtLeast(setups, 2, 'setups');
  requirePositive({ standardDeviation, runs: runs - 1 });
  const degreesOfFreedom = freedomOf(design, runs);
  const noncentrality = (Math.abs(difference) / standardDeviation) * Math.sqrt(runs / 2);
  const critical =
    setups === 2
      ? studentTQuantile(1 - significanceLevel / 2, degreesOfFreedom)
      : studentizedRangeQuantile(1 - significanceLevel, setups, degreesOfFreedom) / Math.SQRT2;
  return (
    1 -
    noncentralTCdf(critical, degreesOfFreedom, noncentrality) +
    noncentralTCdf(-critical, degreesOfFreedom, noncentrality)
  );
}

function freedomOf({ setups, isBlocked, outings }: PlanDesign, runs: number): number {
  if (!isBlocked) return setups * (runs - 1);
  return setups * runs - Math.min(outings ?? runs, runs) - (setups - 1);
}

/** Runs of each setup for the wanted power, not rounded, at least 2; undefined beyond `MAX_RUNS`. */
export function runsForPlan(design: PlanDesign, difference: number, power = 0.8): number | undefined {
  requirePositive({ difference: Math.abs(difference) });
  requireInOpenInterval({ power }, 0, 1);
  if (powerOfPlan(design, difference, 2) >= power) return 2;
  if (powerOfPlan(design, difference, MAX_RUNS) < power) return undefined;
  let upper = 4;
  while (upper < MAX_RUNS && powerOfPlan(design, difference, upper) < power) upper *= 2;
  return findRoot((n) => powerOfPlan(design, difference, n) - power, upper / 2, Math.min(upper, MAX_RUNS), 1e-10);
}

/** The smallest true difference that `runs` runs of each setup would show with the wanted power; unit of the spread. */
export function detectableDifference(design: PlanDesign, runs: number, power = 0.8): number {
  requireInOpenInterval({ power }, 0, 1);
  const { standardDeviation } = design;
  let upper = standardDeviation;
  while (powerOfPlan(design, upper, runs) < power && upper < SEARCH_LIMIT * standardDeviation) upper *= 2;
  return findRoot((difference) => powerOfPlan(design, difference, runs) - power, 0, upper, 1e-9 * standardDeviation);
}

/** Power for 2, 3 … `most` runs of each setup. */
export function powerCurve(
  design: PlanDesign,
  difference: number,
  most: number,
): readonly { readonly runs: number; readonly power: number; readonly detectable: number }[] {
  return Array.from({ length: Math.max(0, most - 1) }, (_, k) => ({
    runs: k + 2,
    power: powerOfPlan(design, difference, k + 2),
    detectable: detectableDifference(design, k + 2),
  }));
}
