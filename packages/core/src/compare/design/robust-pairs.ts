import { fitClusterRobust } from '../../statistics/index.js';
import type { DesignedRun } from './choose-design.js';
import type { DesignFit } from './design-fit.js';
import { pairsBy, setupRow, type Combine } from './fit-rows.js';

/** Fewer clusters than this carry no error of their own: runs are taken one by one, the outings as columns. */
const MIN_CLUSTERS = 5;

/** Differences within outings, allowing each setup its own scatter; undefined where outings do not join the setups. */
export function robustWithin(
  runs: readonly DesignedRun[],
  clusters: readonly number[],
  setups: number,
  hasCovariate: boolean,
): Combine | undefined {
  const y = runs.map(({ value }) => value);
  const count = Math.max(...clusters) + 1;
  const byRun = count < MIN_CLUSTERS;
  const fixed = runs.map((run, i) => [
    ...setupRow(run, setups, hasCovariate ? 0 : undefined),
    // One outing less than there are: the setups' columns already sum to one.
    ...Array.from({ length: count - 1 }, (_, c) => (clusters[i] === c ? 1 : 0)),
  ]);
  const fit = fitClusterRobust(fixed, y, byRun ? runs.map((_, i) => i) : clusters);
  if (!fit.ok) return undefined;
  const padding = new Array<number>(count - 1).fill(0);
  return (weights) => fit.value.combine([...weights, ...padding]);
}

/** A fit with the pairs of another; as it was where these have no error to go by. */
export function withRobust(
  plain: DesignFit,
  combine: Combine,
  setups: number,
  extra: number,
  confidence: number,
): DesignFit {
  const pairs = pairsBy(combine, setups, extra, confidence);
  const isUsable = pairs.every(({ standardError, degreesOfFreedom }) => standardError > 0 && degreesOfFreedom > 0);
  return isUsable ? { ...plain, pairs, unequalSpread: true } : plain;
}
