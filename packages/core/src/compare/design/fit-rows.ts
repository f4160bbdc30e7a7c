import { pairInterval, pairsOf, type PairwiseInterval } from '../../statistics/index.js';
import type { DesignedRun } from './choose-design.js';

/** Estimate of a linear combination of coefficients, the setups' first. */
export type Combine = (weights: readonly number[]) => {
  readonly estimate: number;
  readonly standardError: number;
  readonly degreesOfFreedom: number;
};

/** A column for each setup; and the covariate less its mean, where there is one. */
export function setupRow(run: DesignedRun, setups: number, covariateMean: number | undefined): number[] {
  return [
    ...weightsOfMean(run.setup, setups),
    ...(covariateMean === undefined ? [] : [run.covariate! - covariateMean]),
  ];
}

export function weightsOfMean(setup: number, setups: number): number[] {
  return Array.from({ length: setups }, (_, s) => (s === setup ? 1 : 0));
}

/** All pairs a < b by their combination; `extra` columns follow those of the setups. */
export function pairsBy(combine: Combine, setups: number, extra: number, confidence: number): PairwiseInterval[] {
  return pairsOf(setups).map(([a, b]) => {
    const weights = Array.from({ length: setups + extra }, (_, k) => (k === a ? 1 : k === b ? -1 : 0));
    const { estimate, standardError, degreesOfFreedom } = combine(weights);
    return pairInterval({ a, b, difference: estimate, standardError }, degreesOfFreedom, setups, confidence);
  });
}
