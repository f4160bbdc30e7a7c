import { varyingConditions, type ConditionKey, type DecidingFigureKey } from '@ebrix/core/compare';
import type { FigureOfRun, Figures, PreparedFigure } from './prepare-verdict.js';
import type { TrialRun } from './trial-run.repository.js';

/** The figure that a run was ridden at, as a condition. */
export const SPEED = 'meanMovingSpeed';

/** What the rider wrote down of how hard it felt: in whole steps. */
export function feltOf(runs: readonly TrialRun[]): ReadonlyMap<string, FigureOfRun> {
  return new Map(
    runs.flatMap(({ id, perceivedEffort }) =>
      perceivedEffort === null
        ? []
        : [[id, { value: perceivedEffort, standardUncertainty: 1 / Math.sqrt(12), systematic: 0 }] as const],
    ),
  );
}

/** With the speed it was ridden at as a condition; a figure of speed or time has it in itself. */
export function withMeanSpeed(run: TrialRun, figure: DecidingFigureKey, figures: Figures): TrialRun {
  const speed = figures.get(SPEED)?.get(run.id)?.value;
  const isOfSpeed = /speed|time/i.test(figure);
  return speed === undefined || isOfSpeed ? run : { ...run, conditions: { ...run.conditions, meanSpeed: speed } };
}

/** Conditions that vary between the counted runs enough for an adjusted answer beside the one as ridden. */
export function conditionsOf({ counted }: PreparedFigure): ConditionKey[] {
  return varyingConditions(
    counted.map(({ run }) => run),
    () => true,
  );
}
