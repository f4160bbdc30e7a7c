import { summarizeSample } from '../statistics/index.js';

export interface Repeatability {
  /** Within-setup standard deviation as a share of the mean. */
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

/**
 * Scatter of a figure between runs of the same setup, pooled over setups; else what is usual, said to be so.
 *
 * Shapes: one list of values per setup (and course), in one unit, positive; lists of one value tell nothing.
 * Method: pooled variance of the logarithms, Σ(nᵢ−1)sᵢ² / Σ(nᵢ−1): a standard deviation as a share of the mean.
 */
export function repeatabilityOf(figure: string, groups: readonly (readonly number[])[]): Repeatability {
  const usual = USUAL[figure] ?? USUAL_OTHERWISE;
  let squares = 0;
  let degreesOfFreedom = 0;
  let runs = 0;
  let setups = 0;
  for (const values of groups) {
    const logs = values.filter((value) => value > 0).map(Math.log);
    if (logs.length < 2) continue;
    const { variance, count } = summarizeSample(logs);
    squares += variance * (count - 1);
    degreesOfFreedom += count - 1;
    runs += count;
    setups++;
  }
  if (degreesOfFreedom < MIN_DEGREES_OF_FREEDOM || squares === 0)
    return { relativeSd: usual.middle, degreesOfFreedom: 0, runs: 0, setups: 0, source: 'usual', usual };
  return {
    relativeSd: Math.sqrt(squares / degreesOfFreedom),
    degreesOfFreedom,
    runs,
    setups,
    source: 'own-runs',
    usual,
  };
}
