import { chiSquaredQuantile, noncentralTCdf, normalQuantile, studentTQuantile } from '../../statistics/index.js';

/** How many more it takes of each setup, for a difference that matters to be seen if there is one. */
export interface MoreNeeded {
  readonly unit: MoreUnit;
  /** Holds for the scatter as it is known: on average over what it may be. */
  readonly about: number;
  /** As the scatter may be smaller or larger; `high` is absent beyond `MOST_MORE`. */
  readonly low: number;
  readonly high?: number;
}
export type MoreUnit = 'group' | 'outing' | 'run';

/** Beyond this the answer is "more than anyone rides". */
export const MOST_MORE = 400;
const POWER = 0.8;
/**
 * Only trials still open are asked, and in these the scatter came out rather too large: averaged over all that its degrees of freedom
 * allow, too many runs would be asked for. With so many times the degrees of freedom, simulated trials (3 to 6 runs so far, scatter of
 * 3 to 8 %, 5 % to be seen) show the difference in 74 to 87 of 100, 79 on average.
 */
const OPEN_TRIALS = 2.5;
/** The scatter is taken between these quantiles of what it may be. */
const RANGE = [0.1, 0.9] as const;

export interface MoreQuestion {
  readonly unit: MoreUnit;
  /** The difference to be seen, and the standard error of the difference as it stands, in one unit. */
  readonly difference: number;
  readonly standardError: number;
  readonly degreesOfFreedom: number;
  /** Runs (or outings) of either setup so far, and the degrees of freedom that one more of each brings. */
  readonly counts: readonly [number, number];
  readonly freedomPerMore: number;
  /** Two-sided, of this pair. */
  readonly significanceLevel: number;
}

/**
 * Further runs (or outings) of each setup for a power of 80 %, the scatter being known only by what was ridden.
 *
 * Method: the chance of seeing the difference, averaged over what the scatter may be, is a noncentral t probability with the critical
 *         value as its noncentrality; the scatter of trials that are still open is taken for somewhat better known than it is. The range holds the power for scatter at its 10 % and 90 % quantile.
 * Fails:  undefined when even `MOST_MORE` are too few, or there is no scatter to go by.
 */
export function moreNeeded(question: MoreQuestion): MoreNeeded | undefined {
  const { degreesOfFreedom: df, unit } = question;
  if (!(question.standardError > 0) || !(df > 0)) return undefined;
  const about = smallest((more) => {
    const { signal, critical } = after(question, more);
    return noncentralTCdf(signal, OPEN_TRIALS * df, critical) >= POWER;
  });
  if (about === undefined) return undefined;
  // s²·ν/σ² is chi-squared: large quantiles of it mean a small scatter.
  const [small, large] = RANGE.map((p) => Math.sqrt(df / chiSquaredQuantile(1 - p, df)));
  const forScatter = (factor: number): number | undefined =>
    smallest((more) => {
      const { signal, critical } = after(question, more);
      return signal / factor >= critical + normalQuantile(POWER);
    });
  const low = forScatter(small!) ?? about;
  const high = forScatter(large!);
  return { unit, about, low: Math.min(low, about), ...(high !== undefined && { high: Math.max(high, about) }) };
}

function after({ counts, ...q }: MoreQuestion, more: number): { signal: number; critical: number } {
  const spread = (added: number): number => 1 / (counts[0] + added) + 1 / (counts[1] + added);
  const standardError = q.standardError * Math.sqrt(spread(more) / spread(0));
  const free = q.degreesOfFreedom + more * q.freedomPerMore;
  return {
    signal: Math.abs(q.difference) / standardError,
    critical: studentTQuantile(1 - q.significanceLevel / 2, free),
  };
}

/** The smallest whole number from 1 that will do; undefined beyond the most. */
function smallest(isEnough: (more: number) => boolean): number | undefined {
  if (!isEnough(MOST_MORE)) return undefined;
  let [below, enough] = [0, MOST_MORE];
  while (enough - below > 1) {
    const middle = (below + enough) >> 1;
    if (isEnough(middle)) enough = middle;
    else below = middle;
  }
  return enough;
}
