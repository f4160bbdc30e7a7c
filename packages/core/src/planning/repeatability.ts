import { compareWithBlocks, summarizeSample } from '../statistics/index.js';

export interface Repeatability {
  /** Standard deviation between runs of a setup within an outing, as a share of the mean. */
  readonly relativeSd: number;
  readonly degreesOfFreedom: number;
  /** Runs and setups it rests on; 0 for a stated default. */
  readonly runs: number;
  readonly setups: number;
  readonly source: 'own-runs' | 'usual';
  /** What is usual for the figure, as shares: shown beside own runs, taken where there are too few. */
  readonly usual: UsualSpread;
}
export interface UsualSpread {
  readonly low: number;
  readonly middle: number;
  readonly high: number;
}

/**
 * Scatter from run to run that careful testers of one course and one rider reach, as a share of the mean.
 * Stated so that a first plan is possible; own runs replace it.
 */
const USUAL: Readonly<Record<string, UsualSpread>> = {
  netConsumption: { low: 0.02, middle: 0.04, high: 0.08 },
  netConsumptionAtReference: { low: 0.02, middle: 0.035, high: 0.07 },
  grossConsumption: { low: 0.02, middle: 0.04, high: 0.08 },
  rangeToCutoff: { low: 0.02, middle: 0.045, high: 0.09 },
  rangeWithReserve: { low: 0.02, middle: 0.045, high: 0.09 },
  meanMovingSpeed: { low: 0.01, middle: 0.02, high: 0.04 },
  climbTime: { low: 0.015, middle: 0.03, high: 0.06 },
  verticalSpeed: { low: 0.015, middle: 0.03, high: 0.06 },
  energyPer100m: { low: 0.02, middle: 0.04, high: 0.08 },
  twoWayTopSpeed: { low: 0.005, middle: 0.015, high: 0.03 },
  motorTemperatureRise: { low: 0.05, middle: 0.1, high: 0.2 },
};
const USUAL_OTHERWISE: UsualSpread = { low: 0.02, middle: 0.05, high: 0.1 };

/** Fewer degrees of freedom than this say too little about a spread: its 95 % interval spans a factor of six. */
export const MIN_DEGREES_OF_FREEDOM = 3;

/** One run of a figure, among others of the same course, kind of test and way of riding. */
export interface RepeatedRun {
  readonly setup: string;
  readonly outing: string;
  readonly value: number;
}

/**
 * Scatter of a figure between runs within an outing, what setup and outing make being taken out; else what is usual, said to be so.
 * It is the scatter that a comparison within outings has to see through: what one day is harder than another is none of it.
 *
 * Shapes: a list of runs for each course, kind of test and way of riding; positive values in one unit.
 * Method: on the logarithms, so that it is a share of the mean: what setup + outing by least squares leaves over, or where a list
 *         cannot carry that (one setup), the variance between runs of one setup on one outing; pooled by degrees of freedom.
 */
export function repeatabilityOf(figure: string, groups: readonly (readonly RepeatedRun[])[]): Repeatability {
  const usual = USUAL[figure] ?? USUAL_OTHERWISE;
  let squares = 0;
  let degreesOfFreedom = 0;
  let runs = 0;
  const setups = new Set<string>();
  for (const group of groups) {
    const scatter = scatterWithin(group.filter(({ value }) => value > 0));
    if (scatter.degreesOfFreedom === 0) continue;
    squares += scatter.squares;
    degreesOfFreedom += scatter.degreesOfFreedom;
    runs += group.length;
    for (const { setup } of group) setups.add(setup);
  }
  if (degreesOfFreedom < MIN_DEGREES_OF_FREEDOM || squares === 0)
    return { relativeSd: usual.middle, degreesOfFreedom: 0, runs: 0, setups: 0, source: 'usual', usual };
  return {
    relativeSd: Math.sqrt(squares / degreesOfFreedom),
    degreesOfFreedom,
    runs,
    setups: setups.size,
    source: 'own-runs',
    usual,
  };
}

function scatterWithin(runs: readonly RepeatedRun[]): { squares: number; degreesOfFreedom: number } {
  const logs = runs.map(({ value }) => Math.log(value));
  const [setups, outings] = [numbered(runs.map(({ setup }) => setup)), numbered(runs.map(({ outing }) => outing))];
  const fit = runs.length > 2 ? compareWithBlocks(logs, setups, outings, 0.95) : undefined;
  if (fit?.ok)
    return {
      squares: fit.value.residualVariance * fit.value.degreesOfFreedom,
      degreesOfFreedom: fit.value.degreesOfFreedom,
    };
  const cells = new Map<string, number[]>();
  runs.forEach(({ setup, outing }, k) => {
    const cell = `${setup} ${outing}`;
    cells.set(cell, [...(cells.get(cell) ?? []), logs[k]!]);
  });
  let squares = 0;
  let degreesOfFreedom = 0;
  for (const values of cells.values()) {
    if (values.length < 2) continue;
    const { variance, count } = summarizeSample(values);
    squares += variance * (count - 1);
    degreesOfFreedom += count - 1;
  }
  return { squares, degreesOfFreedom };
}

function numbered(names: readonly string[]): number[] {
  const seen = [...new Set(names)];
  return names.map((name) => seen.indexOf(name));
}
