import type { ChannelColumns, CleanLog, Gap } from '../../logs/index.js';
import { haversineM } from '../../logs/index.js';
import { summarizeSample } from '../../statistics/index.js';
import { estimateNoise } from '../../signal/index.js';

/** Length of the stretches whose mean power tells what a gap may have held. */
const NEIGHBOUR_S = 30;
/** A current this many standard deviations of its noise below zero is regeneration, not noise. */
const REGENERATION_NOISE_MULTIPLE = 3;

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
      const known = around.filter((mean) => mean !== undefined);
      const mean = known.reduce((sum, value) => sum + value, 0) / known.length;
      acrossGaps += (endS - startS) * mean;
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

/** Index of the first time at or after `t`, by bisection. */
export function firstAtOrAfter(timeS: ArrayLike<number>, t: number): number {
  let low = 0;
  let high = timeS.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (timeS[middle]! < t) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Standard deviation of the means of half-minute blocks: how far a gap's mean may lie from its neighbours'. */
function scatterOfBlocks(timeS: Float64Array, values: Float64Array): number {
  const means: number[] = [];
  const end = timeS[timeS.length - 1]!;
  for (let start = timeS[0]!; start < end; start += NEIGHBOUR_S) {
    const mean = meanBetween(timeS, values, start, start + NEIGHBOUR_S);
    if (mean !== undefined) means.push(mean);
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

export interface Regeneration {
  /** Fed back to the battery, J, positive. */
  readonly energyJ: number;
  /** What the straight-line integral of the power must be changed by, now that the edges of the pulses are placed, J. */
  readonly netCorrectionJ: number;
  /** Standard uncertainty from not knowing where between two samples a pulse began or ended, J. */
  readonly edgeUncertaintyJ: number;
  /** ∫ V dt over the pulses, V·h: what an offset of the current makes of them. */
  readonly voltHours: number;
  /** The most that could lie within the noise about zero while the battery is idle, J. */
  readonly hiddenJ: number;
  /** ∫ V dt while it is idle, V·h. */
  readonly idleVoltHours: number;
}

/**
 * Energy fed back to the battery.
 *
 * Regeneration switches on and off between two samples, so a straight line between them is wrong: the switch is placed
 * where the speed's two slopes meet if the bike begins to slow down there, else in the middle of the step.
 * A sample counts only where the current (or power) is below zero beyond its noise; else noise about zero would be rectified.
 */
export function regeneratedEnergy(
  timeS: Float64Array,
  powerW: Float64Array,
  { current, speed, voltage }: Pick<ChannelColumns, 'current' | 'speed' | 'voltage'>,
  gapLimitS: number,
): Regeneration {
  const signal = current ?? powerW;
  const threshold = -REGENERATION_NOISE_MULTIPLE * estimateNoise(signal);
  let energyJ = 0;
  let netCorrectionJ = 0;
  let edgeVariance = 0;
  let voltSeconds = 0;
  let [hiddenJ, idleVoltSeconds] = [0, 0];
  let last = -1;
  for (let k = 0; k < powerW.length; k++) {
    const b = powerW[k]!;
    if (Number.isNaN(b)) continue;
    const from = last;
    last = k;
    if (from < 0) continue;
    const a = powerW[from]!;
    const step = timeS[k]! - timeS[from]!;
    const isBefore = signal[from]! < threshold;
    const isAfter = signal[k]! < threshold;
    if (step <= gapLimitS && Math.abs(signal[k]!) <= -threshold) {
      hiddenJ -= threshold * (current ? voltage?.[k] || 0 : 1) * step;
      idleVoltSeconds += (voltage?.[k] || 0) * step;
    }
    if (step > gapLimitS || !(isBefore || isAfter)) continue;
    voltSeconds += (voltage?.[k] || 0) * step * (isBefore && isAfter ? 1 : 0.5);
    if (isBefore && isAfter) {
      energyJ -= ((a + b) / 2) * step;
      continue;
    }
    const located = isAfter && speed ? findKink(timeS, speed, from, k) : undefined;
    const share = located ?? 0.5;
    const regenerating = isAfter ? b : a;
    const driving = Math.max(0, isAfter ? a : b);
    energyJ -= regenerating * share * step;
    netCorrectionJ += regenerating * share * step + driving * (1 - share) * step - ((a + b) / 2) * step;
    edgeVariance += ((driving - regenerating) * step * (located === undefined ? UNKNOWN_EDGE : LOCATED_EDGE)) ** 2;
  }
  return {
    energyJ,
    netCorrectionJ,
    edgeUncertaintyJ: Math.sqrt(edgeVariance),
    voltHours: voltSeconds / 3600,
    hiddenJ,
    idleVoltHours: idleVoltSeconds / 3600,
  };
}

/** Standard uncertainty of an edge, as a share of the step: anywhere in it (1/√12), or found from the speed. */
const UNKNOWN_EDGE = 1 / Math.sqrt(12);
const LOCATED_EDGE = 0.15;
/** A change of slope below this is no braking, m/s². */
const KINK_MPS2 = 0.4;

/** Share of the step [from, k] after the point where the speed's slopes before and after it meet; undefined without a kink. */
function findKink(timeS: Float64Array, speed: Float64Array, from: number, k: number): number | undefined {
  if (from < 1 || k + 1 >= speed.length) return undefined;
  const before = (speed[from]! - speed[from - 1]!) / (timeS[from]! - timeS[from - 1]!);
  const after = (speed[k + 1]! - speed[k]!) / (timeS[k + 1]! - timeS[k]!);
  if (!(before - after > KINK_MPS2)) return undefined;
  const step = timeS[k]! - timeS[from]!;
  const share = (speed[from]! + before * step - speed[k]!) / (before - after) / step;
  return Math.min(1, Math.max(0, share));
}

export interface RideDistance {
  readonly distanceM: number;
  readonly source: 'wheel distance' | 'speed over time' | 'positions';
  /** Distance at each sample, for gradients and charts; missing samples hold the last value. */
  readonly cumulativeM: Float64Array;
  readonly acrossGapsM: number;
  readonly uncertaintyAcrossGapsM: number;
  readonly samples: number;
}

/** Above this between two samples a cumulative distance was tampered with or reset, not ridden. */
const MAX_SPEED_MPS = 45;

/** Distance ridden: wheel distance first, else speed over time, else positions. Undefined when there is none of them. */
export function rideDistance({ timeS, channels, hasClock, report }: CleanLog): RideDistance | undefined {
  const { distance, speed, latitude, longitude } = channels;
  if (distance) {
    const { cumulativeM, samples } = accumulate(
      timeS,
      (k, last) => {
        const step = distance[k]! - distance[last]!;
        // A reset display starts again at zero; noise may step back a little.
        if (step < -50)
          return Math.max(0, distance[k]!) < MAX_SPEED_MPS * (timeS[k]! - timeS[last]!) ? Math.max(0, distance[k]!) : 0;
        return step > MAX_SPEED_MPS * (timeS[k]! - timeS[last]!) + 100 ? 0 : step;
      },
      (k) => !Number.isNaN(distance[k]!),
    );
    if (samples > 1)
      return {
        distanceM: cumulativeM.at(-1)!,
        source: 'wheel distance',
        cumulativeM,
        acrossGapsM: 0,
        uncertaintyAcrossGapsM: 0,
        samples,
      };
  }
  if (speed && hasClock) {
    const whole = integrateOverRide(timeS, speed, report.gapLimitS);
    const { cumulativeM } = accumulate(
      timeS,
      (k, last) => {
        const step = timeS[k]! - timeS[last]!;
        return step > report.gapLimitS ? 0 : ((speed[k]! + speed[last]!) / 2) * step;
      },
      (k) => !Number.isNaN(speed[k]!),
    );
    if (whole.samples > 1)
      return {
        distanceM: whole.measured + whole.acrossGaps,
        source: 'speed over time',
        cumulativeM,
        acrossGapsM: whole.acrossGaps,
        uncertaintyAcrossGapsM: whole.uncertaintyAcrossGaps,
        samples: whole.samples,
      };
  }
  if (latitude && longitude) {
    const { cumulativeM, samples } = accumulate(
      timeS,
      (k, last) => haversineM(latitude[last]!, longitude[last]!, latitude[k]!, longitude[k]!),
      (k) => !Number.isNaN(latitude[k]!) && !Number.isNaN(longitude[k]!),
    );
    if (samples > 1)
      return {
        distanceM: cumulativeM.at(-1)!,
        source: 'positions',
        cumulativeM,
        acrossGapsM: 0,
        uncertaintyAcrossGapsM: 0,
        samples,
      };
  }
  return undefined;
}

function accumulate(
  timeS: Float64Array,
  step: (k: number, last: number) => number,
  isUsable: (k: number) => boolean,
): { cumulativeM: Float64Array; samples: number } {
  const cumulativeM = new Float64Array(timeS.length);
  let total = 0;
  let last = -1;
  let samples = 0;
  for (let k = 0; k < timeS.length; k++) {
    if (isUsable(k)) {
      samples++;
      if (last >= 0) total += step(k, last);
      last = k;
    }
    cumulativeM[k] = total;
  }
  return { cumulativeM, samples };
}
