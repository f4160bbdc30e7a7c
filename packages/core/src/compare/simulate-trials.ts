import { standardNormal, type Random } from '../numeric/index.js';
import type { ComparedRun, SetupRuns } from './comparison.js';

/** Outings of a made-up trial, each with the setups (by index) ridden on it in order. */
export type TrialLayout = readonly (readonly number[])[];

export interface SimulatedTrial {
  readonly layout: TrialLayout;
  /** True logarithm of each setup's figure; relative standard deviations between days and between runs of one day. */
  readonly logMeans: readonly number[];
  readonly daySd: number;
  readonly runSd: number;
  /** Runs of a setup may scatter otherwise than those of the rest: factors on `runSd`. */
  readonly spread?: readonly number[];
}

/**
 * Runs of a made-up trial, log-normal about their setup's mean with a part common to each outing: what coverage and false alarms of a
 * verdict are tried on, in tests and in the benchmark.
 */
export function simulateTrial({ layout, logMeans, daySd, runSd, spread }: SimulatedTrial, random: Random): SetupRuns[] {
  const runs: ComparedRun[][] = logMeans.map(() => []);
  layout.forEach((setups, outing) => {
    const day = daySd * standardNormal(random);
    for (const setup of setups)
      runs[setup]!.push({
        value: Math.exp(logMeans[setup]! + day + runSd * (spread?.[setup] ?? 1) * standardNormal(random)),
        block: `outing ${outing + 1}`,
      });
  });
  return runs.map((own, k) => ({ name: `Setup ${k + 1}`, runs: own }));
}
