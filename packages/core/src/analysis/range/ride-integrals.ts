import type { ChannelColumns, Gap } from '../../logs/index.js';
import { firstAtOrAfter, mean } from '../../numeric/index.js';
import { summarizeSample } from '../../statistics/index.js';

/** Length of the spans whose mean power tells what a gap may have held. */
const NEIGHBOUR_S = 30;

export interface Integral {
  /** Measured part, gaps left out. */
  readonly measured: number;
  /** Estimate for the gaps, and the standard uncertainty of that estimate. */
  readonly acrossGaps: number;
  readonly uncertaintyAcrossGaps: number;
  readonly gaps: readonly Gap[];
  readonly samples: number;
}

/** Trapezoidal integral over the log's own times; missing single samples are spanned, gaps are estimated apart. */
export function integrateOverRide(timeS: Float64Array, values: Float64Array, gapLimitS: number): Integral {
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
  let acrossGaps = 0;
  let variance = 0;
  if (gaps.length > 0) {
    const blockScatter = scatterOfBlocks(timeS, values);
    for (const { startS, endS } of gaps) {
      const around = [
        meanBetween(timeS, values, startS - NEIGHBOUR_S, startS),
        meanBetween(timeS, values, endS, endS + NEIGHBOUR_S),
      ];
      acrossGaps += (endS - startS) * mean(around.filter((one) => one !== undefined));
      variance += ((endS - startS) * blockScatter) ** 2;
    }
  }
  return { measured, acrossGaps, uncertaintyAcrossGaps: Math.sqrt(variance), gaps, samples };
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
export function electricalPower({ voltage, current, power }: ChannelColumns): PowerColumns | undefined {
  if (voltage && current) return { powerW: voltage.map((v, k) => v * current[k]!), hasCurrent: true };
  return power ? { powerW: power, hasCurrent: false } : undefined;
}
