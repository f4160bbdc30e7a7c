import { ridingText, type Riding } from '../compare/index.js';
import { mean } from '../numeric/index.js';
import type { TestKind } from '../analysis/index.js';
import type { Standing } from './weigh-up.js';

/** One run of a setup with the figure that is asked for. */
export interface StandingRun {
  /** Index of the setup. */
  readonly setup: number;
  readonly kind: TestKind;
  readonly course: string;
  readonly riding: Riding;
  readonly value: number;
  readonly standardUncertainty: number;
  /** Of it, what the same logger does to every run. */
  readonly systematic: number;
  readonly loggerId: string | null;
}
/** How setups stand in one figure, and what that rests on. */
export interface FigureStandings {
  /** By setup; undefined where it was not ridden like the others. */
  readonly standings: readonly (Standing | undefined)[];
  readonly kind: TestKind;
  readonly course: string;
  /** How all of them were ridden, in words; empty where nothing was written down. */
  readonly riding: string;
  readonly runs: readonly number[];
  /** No setup was ridden twice: the scatter is a usual one. */
  readonly isScatterUsual: boolean;
}

/** Scatter from run to run, relative, where none was ridden twice. */
const USUAL_SCATTER = 0.05;

/**
 * Means of a figure over the runs that can be set against each other: of one kind of test, on one course, ridden alike. Of several such groups the one
 * with the most setups counts, then the one with the most runs.
 *
 * The scatter is the pooled relative one within setups (degrees of freedom: runs − setups); instruments come on top, as one shift for all where all runs
 * have one logger. `course`: only runs there. Units: those of the figure. Undefined without runs.
 */
export function figureStandings(
  runs: readonly StandingRun[],
  setups: number,
  course?: string,
): FigureStandings | undefined {
  const groups = new Map<string, StandingRun[]>();
  for (const run of runs) {
    if (course !== undefined && run.course !== course) continue;
    const key = `${run.kind}\n${run.course}\n${ridingText(run.riding)}`;
    groups.set(key, [...(groups.get(key) ?? []), run]);
  }
  const [chosen] = [...groups.values()].sort((a, b) => breadth(b) - breadth(a) || b.length - a.length);
  if (!chosen) return undefined;
  const bySetup = Array.from({ length: setups }, (_, s) => chosen.filter(({ setup }) => setup === s));
  const { scatter, degreesOfFreedom } = pooledScatter(bySetup);
  const hasOneLogger = new Set(chosen.map(({ loggerId }) => loggerId)).size === 1 && chosen[0]!.loggerId !== null;
  return {
    standings: bySetup.map((own): Standing | undefined => {
      if (own.length === 0) return undefined;
      const value = mean(own.map((run) => run.value));
      const systematic = mean(own.map((run) => run.systematic));
      const random = mean(own.map((run) => Math.sqrt(Math.max(0, run.standardUncertainty ** 2 - run.systematic ** 2))));
      // What one run does not know of itself is in the scatter already, unless that was not seen.
      const ofRuns = Math.max(scatter * Math.abs(value), random) / Math.sqrt(own.length);
      return {
        value,
        standardUncertainty: Math.hypot(ofRuns, systematic),
        ...(hasOneLogger && { sharedUncertainty: systematic }),
        ...(degreesOfFreedom > 0 && { degreesOfFreedom }),
        n: own.length,
      };
    }),
    kind: chosen[0]!.kind,
    course: chosen[0]!.course,
    riding: ridingText(chosen[0]!.riding),
    runs: bySetup.map(({ length }) => length),
    isScatterUsual: degreesOfFreedom === 0,
  };
}

const breadth = (runs: readonly StandingRun[]): number => new Set(runs.map(({ setup }) => setup)).size;

function pooledScatter(bySetup: readonly (readonly StandingRun[])[]): { scatter: number; degreesOfFreedom: number } {
  let [squares, degreesOfFreedom] = [0, 0];
  for (const own of bySetup) {
    if (own.length < 2) continue;
    const middle = mean(own.map(({ value }) => value));
    if (middle === 0) continue;
    for (const { value } of own) squares += (value / middle - 1) ** 2;
    degreesOfFreedom += own.length - 1;
  }
  return degreesOfFreedom === 0
    ? { scatter: USUAL_SCATTER, degreesOfFreedom }
    : { scatter: Math.sqrt(squares / degreesOfFreedom), degreesOfFreedom };
}
