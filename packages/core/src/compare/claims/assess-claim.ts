import { refusal, requirePositive, success, type Outcome } from '../../errors/index.js';
import { fitRandomIntercept, studentTQuantile, summarizeSample } from '../../statistics/index.js';

export interface ClaimAssessment {
  readonly verdict: 'cannot-tell' | 'met' | 'not-met';
  readonly mean: number;
  /** One-sided bounds, each holding 95 times in 100. */
  readonly lower: number;
  readonly upper: number;
  readonly runs: number;
  readonly outings: number;
}
export interface RunOfClaim {
  readonly value: number;
  readonly outing: string;
}

const CONFIDENCE = 0.95;

/**
 * A seller's claim against runs ridden as the claim says: met when the mean lies above it (or below, where less is claimed) with 95 %,
 * not met when it lies on the other side with 95 %, else not to be told.
 *
 * Shapes: at least two runs; values and `claimed` in one unit; `sharedUncertainty` relative, standard: what all runs have in common.
 * Method: mean with outings as a random sample where there are several (REML, Satterthwaite), else t over runs; one-sided bounds, the
 *         shared part in quadrature.
 * Fails:  `too-few`, `no-spread`; throws `not-positive` for a claim of nothing.
 */
export function assessClaim(question: {
  readonly claimed: number;
  readonly isAtLeast: boolean;
  readonly runs: readonly RunOfClaim[];
  readonly sharedUncertainty: number;
}): Outcome<ClaimAssessment, 'no-spread' | 'too-few'> {
  const { claimed, isAtLeast, runs, sharedUncertainty } = question;
  requirePositive({ claimed });
  if (runs.length < 2) return refusal('too-few');
  const estimate = meanOf(runs);
  if (!estimate.ok) return estimate;
  const { mean, standardError, degreesOfFreedom } = estimate.value;
  const margin = Math.hypot(
    studentTQuantile(CONFIDENCE, degreesOfFreedom) * standardError,
    studentTQuantile(CONFIDENCE, 1e6) * sharedUncertainty * Math.abs(mean),
  );
  const [lower, upper] = [mean - margin, mean + margin];
  const isMet = isAtLeast ? lower >= claimed : upper <= claimed;
  const isMissed = isAtLeast ? upper < claimed : lower > claimed;
  return success({
    verdict: isMet ? 'met' : isMissed ? 'not-met' : 'cannot-tell',
    mean,
    lower,
    upper,
    runs: runs.length,
    outings: new Set(runs.map(({ outing }) => outing)).size,
  });
}

/** The same for runs with what each knows of itself: what all share of it is at most what the surest of them has. */
export function assessRiddenClaim(
  claimed: number,
  isAtLeast: boolean,
  runs: readonly (RunOfClaim & { readonly standardUncertainty: number })[],
): Outcome<ClaimAssessment, 'no-spread' | 'too-few'> {
  const sharedUncertainty = Math.min(...runs.map(({ standardUncertainty, value }) => standardUncertainty / value));
  return runs.length < 2 ? refusal('too-few') : assessClaim({ claimed, isAtLeast, runs, sharedUncertainty });
}

/** Runs by how they were ridden; only those of the claim's own way where it names one. A claim without pedalling is not met by who pedals. */
export function byClaimedWay<R extends { readonly riding: { readonly way: string | null } }>(
  runs: readonly R[],
  claimed: string | null,
): { readonly way: R['riding']['way']; readonly own: readonly R[] }[] {
  const groups = new Map<R['riding']['way'], R[]>();
  for (const run of runs) {
    const { way } = run.riding;
    if (claimed === null || way === claimed) groups.set(way, [...(groups.get(way) ?? []), run]);
  }
  return [...groups].map(([way, own]) => ({ way, own }));
}

function meanOf(
  runs: readonly RunOfClaim[],
): Outcome<{ mean: number; standardError: number; degreesOfFreedom: number }, 'no-spread' | 'too-few'> {
  const outings = [...new Set(runs.map(({ outing }) => outing))];
  const values = runs.map(({ value }) => value);
  if (outings.length > 1 && outings.length < runs.length) {
    const fit = fitRandomIntercept(
      values.map(() => [1]),
      values,
      runs.map(({ outing }) => outings.indexOf(outing)),
    );
    if (fit.ok) {
      const { estimate, standardError, degreesOfFreedom } = fit.value.combine([1]);
      return success({ mean: estimate, standardError, degreesOfFreedom });
    }
  }
  const { mean, variance, count } = summarizeSample(values);
  if (!(variance > 0)) return refusal('no-spread');
  return success({ mean, standardError: Math.sqrt(variance / count), degreesOfFreedom: count - 1 });
}
