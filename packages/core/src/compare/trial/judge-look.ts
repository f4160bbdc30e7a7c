import { levelsOfLooks, spentEarlySparing } from '../../statistics/index.js';
import type { InterimLook } from '../comparison.js';
import { LAST_LOOK } from '../judge-pair.js';

export interface Look extends InterimLook {
  /** From 1; and of how many runs planned, where a plan says. */
  readonly number: number;
  readonly plannedRuns?: number;
}

/**
 * At which level this look at a trial is to be judged, so that looking after every run does not find what is not there.
 *
 * Shapes: `earlier` counts of runs at looks before, in any order; `plannedRuns` those of the plan, if there is one.
 * Method: with a plan, what is spent up to a look follows the share of the planned runs, sparing early (Lan and DeMets, of the kind
 *         of O'Brien and Fleming), and is whole at the last. Without a plan, and beyond it, the first look spends 5 % and each further
 *         one half of what the one before did, a quarter of that to begin with: 7.5 % in all, so that "better, and it matters" is said
 *         falsely in less than 4 of 100 trials however often one looks.
 */
export function judgeLook(countedRuns: number, earlier: readonly number[], plannedRuns?: number): Look {
  const counts = [...new Set([...earlier.filter((count) => count > 0 && count < countedRuns), countedRuns])].sort(
    (a, b) => a - b,
  );
  const number = counts.length;
  const isLast = plannedRuns === undefined || countedRuns >= plannedRuns;
  if (countedRuns === 0 || (number === 1 && isLast))
    return { ...LAST_LOOK, number, ...(plannedRuns !== undefined && { plannedRuns }) };
  const level = levelOfLast(counts, LAST_LOOK.level, plannedRuns);
  const equivalenceLevel = levelOfLast(counts, LAST_LOOK.equivalenceLevel, plannedRuns);
  return {
    number,
    isLast,
    level: Math.max(level, LEAST_LEVEL),
    equivalenceLevel: Math.max(equivalenceLevel, LEAST_LEVEL),
    ...(plannedRuns !== undefined && { plannedRuns }),
  };
}

/** Below this no interval of a few runs says anything, and quantiles run away. */
const LEAST_LEVEL = 1e-6;

function levelOfLast(counts: readonly number[], whole: number, plannedRuns: number | undefined): number {
  const horizon = Math.max(plannedRuns ?? 0, counts.at(-1)!);
  let beyond = 0;
  const spent = counts.map((count, k) => {
    if (plannedRuns !== undefined && count <= plannedRuns) return spentEarlySparing(count / plannedRuns, whole);
    if (plannedRuns === undefined && k === 0) return whole;
    beyond++;
    return whole * (1.5 - 0.5 ** (beyond + 1));
  });
  return levelsOfLooks(
    counts.map((count) => count / horizon),
    spent,
  ).at(-1)!;
}
