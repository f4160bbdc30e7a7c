import type { ChannelColumns, Gap } from '../../logs/index.js';
import { firstAtOrAfter, mean, oncePer } from '../../numeric/index.js';
import { fromLimit } from '../figure.js';
import { LONG_GAP_S, type JudgeGap } from './gap-share.js';
import { summarizeSample } from '../../statistics/index.js';

/** Length of the spans whose mean power tells what a gap may have held. */
const NEIGHBOUR_S = 30;

export interface Integral {
  /** Measured part, gaps left out. */
  readonly measured: number;
  /** Estimate for the gaps, and the standard uncertainty of that estimate. */
  readonly acrossGaps: number;
  readonly uncertaintyAcrossGaps: number;
  /** Seconds of the gaps of which it is not known whether they were ridden. */
  readonly undecidedS: number;
  readonly gaps: readonly Gap[];
  readonly samples: number;
}

/** Trapezoidal integral over the log's own times; missing single samples are spanned, gaps are estimated apart. */
export function integrateOverRide(
  timeS: Float64Array,
  values: Float64Array,
  gapLimitS: number,
  across: AcrossGaps = NOTHING_KNOWN,
): Integral {
  let measured = 0;
  let samples = 0;
  let last = -1;
  const gaps: Gap[] = [];
  for (let k = 0; k < values.length; k++) {
    if (Number.isNaN(values[k]!)) continue;
    samples++;
    if (last >= 0) {
      const step = timeS[k]! - timeS[last]!;
      if (step > gapLimitS) gaps.push({ startS: timeS[last]!, endS: timeS[k]! });
      else measured += (step * (values[k]! + values[last]!)) / 2;
    }
    last = k;
  }
  return { measured, samples, gaps, ...acrossGaps(timeS, values, gaps, across) };
}

/** What is known of a quantity in the gaps of a log. */
export interface AcrossGaps {
  readonly judge: JudgeGap;
  /** While the bike stands, and how far that may be off. */
  readonly standing: number;
  readonly standingLimit: number;
}
const NOTHING_KNOWN: AcrossGaps = {
  judge: () => ({ least: 1, most: 1, isOff: false }),
  standing: 0,
  standingLimit: 0,
};

/**
 * Estimate for the gaps: standing for the one part of each, as around it for the other. What is not known of the shares errs the same
 * way in all of them and is added up; how far riding in a gap differs from riding around it is each gap's own.
 */
function acrossGaps(
  timeS: Float64Array,
  values: Float64Array,
  gaps: readonly Gap[],
  { judge, standing, standingLimit }: AcrossGaps,
): Pick<Integral, 'acrossGaps' | 'uncertaintyAcrossGaps' | 'undecidedS'> {
  if (gaps.length === 0) return { acrossGaps: 0, uncertaintyAcrossGaps: 0, undecidedS: 0 };
  const blockScatter = scatterOfBlocks(timeS, values);
  const anywhere = ridingMean(values, standing + standingLimit);
  let [sum, oneSided, variance, undecidedS] = [0, 0, 0, 0];
  for (const { startS, endS } of gaps) {
    const seconds = endS - startS;
    const { least, most, isOff, edge = 0 } = judge({ startS, endS });
    const around = [
      meanBetween(timeS, values, startS - NEIGHBOUR_S, startS),
      meanBetween(timeS, values, endS, endS + NEIGHBOUR_S),
    ].filter((one) => one !== undefined);
    // A gap at a stop has slowing down beside it, which is no measure of riding.
    const riding = most < 1 || around.length === 0 ? anywhere : mean(around);
    // Displays switch a bike off that stands for long.
    const standingS = (share: number): number => (isOff ? Math.min(LONG_GAP_S, seconds * share) : seconds * share);
    const idle = isOff ? standing / 2 : standing;
    const idleLimit = isOff ? standing / 2 + standingLimit : standingLimit;
    // Off for certain drew nothing; where it is not known whether it was ridden, it may have been off as well.
    const leastIdle = isOff && most > least ? 0 : idle;
    // Slowing down takes nothing, whatever way it makes; of a distance (nothing while standing) it is the way that counts.
    const powered = standing > 0 || standingLimit > 0 ? Math.max(0, least - edge) : least;
    const low = seconds * powered * riding + standingS(1 - least) * leastIdle;
    const high = seconds * most * riding + standingS(1 - most) * idle;
    sum += (low + high) / 2;
    oneSided += Math.abs(high - low) / 2 + standingS(1 - (least + most) / 2) * idleLimit;
    variance += (((least + most) / 2) * seconds * blockScatter) ** 2;
    undecidedS += seconds * (most - least);
  }
  return { acrossGaps: sum, uncertaintyAcrossGaps: Math.hypot(fromLimit(oneSided), Math.sqrt(variance)), undecidedS };
}

/** Mean of the values above what standing makes of them. */
function ridingMean(values: Float64Array, above: number): number {
  let [sum, count] = [0, 0];
  for (const value of values)
    if (value > above) {
      sum += value;
      count++;
    }
  return count > 0 ? sum / count : 0;
}

function meanBetween(timeS: Float64Array, values: Float64Array, fromS: number, toS: number): number | undefined {
  let sum = 0;
  let count = 0;
  for (let k = firstAtOrAfter(timeS, fromS); k < timeS.length && timeS[k]! <= toS; k++)
    if (!Number.isNaN(values[k]!)) {
      sum += values[k]!;
      count++;
    }
  return count > 0 ? sum / count : undefined;
}

/** Standard deviation of the means of half-minute blocks: how far a gap's mean may lie from its neighbours'. */
function scatterOfBlocks(timeS: Float64Array, values: Float64Array): number {
  const means: number[] = [];
  const end = timeS[timeS.length - 1]!;
  for (let start = timeS[0]!; start < end; start += NEIGHBOUR_S) {
    const blockMean = meanBetween(timeS, values, start, start + NEIGHBOUR_S);
    if (blockMean !== undefined) means.push(blockMean);
  }
  return means.length > 1 ? Math.sqrt(summarizeSample(means).variance) : Math.abs(means[0] ?? 0);
}

export interface PowerColumns {
  readonly powerW: Float64Array;
  readonly hasCurrent: boolean;
}

/** Electrical power: voltage × current where both are logged, else a power channel. Undefined when there is neither. */
export const electricalPower = oncePer(({ voltage, current, power }: ChannelColumns): PowerColumns | undefined => {
  if (!voltage || !current) return power ? { powerW: power, hasCurrent: false } : undefined;
  const powerW = new Float64Array(voltage.length);
  for (let k = 0; k < powerW.length; k++) powerW[k] = voltage[k]! * current[k]!;
  return { powerW, hasCurrent: true };
});
