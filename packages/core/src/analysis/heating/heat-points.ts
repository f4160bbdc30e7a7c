import type { CleanLog } from '../../logs/index.js';

/** Copper's change of resistance, 1/K. */
export const COPPER_PER_K = 0.00393;
/** °C at which the loads are counted. */
export const COPPER_AT_C = 25;
/** Enough points for a curve of hours; more only cost time. */
const MAX_POINTS = 1000;
const SLOWEST_MPS = 1;
/** Length of the line whose end is a temperature without its noise. */
const PEAK_LINE_S = 40;

/** What the loss in the motor may follow, at each point: a term of it, or all of it. */
export interface HeatLoad {
  readonly name: 'current' | 'force' | 'power';
  /** At the temperature that was measured: what follows a square of the current grows with copper's resistance. */
  readonly values: readonly number[];
  /** The same at 25 °C. */
  readonly bare: readonly number[];
  readonly isCopper: boolean;
}

export interface HeatPoints {
  readonly timeS: readonly number[];
  readonly watts: readonly number[];
  /** Speed as a share of the mean riding speed; empty without speed. */
  readonly pace: readonly number[];
  readonly riseK: (airC: number) => number[];
  readonly loads: readonly HeatLoad[];
}

/** Readings thinned to what a slow curve needs; loads are means over the time between two of them. */
export function reduceToPoints(
  log: CleanLog,
  temperature: Float64Array,
  current: Float64Array | undefined,
  power: Float64Array | undefined,
  speed: Float64Array | undefined,
): HeatPoints {
  const every = Math.max(1, Math.ceil(temperature.length / MAX_POINTS));
  const timeS: number[] = [];
  const celsius: number[] = [];
  const squares: number[] = [];
  const watts: number[] = [];
  const forces: number[] = [];
  const speeds: number[] = [];
  let sums = { t: 0, c: 0, i: 0, p: 0, f: 0, n: 0, ni: 0, np: 0, v: 0, nv: 0 };
  for (let k = 0; k < temperature.length; k++) {
    if (!Number.isNaN(temperature[k]!)) {
      sums.t += log.timeS[k]!;
      sums.c += temperature[k]!;
      sums.n++;
    }
    if (speed && !Number.isNaN(speed[k]!)) {
      sums.v += speed[k]!;
      sums.nv++;
    }
    if (current && !Number.isNaN(current[k]!)) {
      sums.i += current[k]! ** 2;
      sums.ni++;
    }
    if (power && !Number.isNaN(power[k]!)) {
      sums.p += Math.max(0, power[k]!);
      const v = speed?.[k] ?? NaN;
      // Below walking pace the force is not known from the power.
      if (v > SLOWEST_MPS) sums.f += (Math.max(0, power[k]!) / v) ** 2;
      sums.np++;
    }
    if ((k + 1) % every !== 0 || sums.n === 0) continue;
    timeS.push(sums.t / sums.n);
    celsius.push(sums.c / sums.n);
    squares.push(sums.ni > 0 ? sums.i / sums.ni : 0);
    watts.push(sums.np > 0 ? sums.p / sums.np : 0);
    forces.push(sums.np > 0 ? sums.f / sums.np : 0);
    speeds.push(sums.nv > 0 ? sums.v / sums.nv : 0);
    sums = { t: 0, c: 0, i: 0, p: 0, f: 0, n: 0, ni: 0, np: 0, v: 0, nv: 0 };
  }
  const copper = (k: number): number => 1 + COPPER_PER_K * (celsius[k]! - COPPER_AT_C);
  const square = (name: 'current' | 'force', bare: readonly number[]): HeatLoad => ({
    name,
    bare,
    values: bare.map((value, k) => value * copper(k)),
    isCopper: true,
  });
  const loads: HeatLoad[] = [];
  if (current) loads.push(square('current', squares));
  if (power) loads.push({ name: 'power', values: watts, bare: watts, isCopper: false });
  // The motor's own current follows its torque, and torque is power over speed.
  if (power && speed) loads.push(square('force', forces));
  const riding = speeds.filter((v) => v > SLOWEST_MPS);
  const meanRiding = riding.reduce((sum, v) => sum + v, 0) / Math.max(1, riding.length);
  return {
    timeS,
    watts,
    loads,
    pace: riding.length > 0 ? speeds.map((v) => v / meanRiding) : [],
    riseK: (airC) => celsius.map((value) => value - airC),
  };
}

/** Highest temperature without its noise: ends of lines through the readings just before, so that a sharp peak is not cut. */
export function peakOf(timeS: readonly number[], rise: readonly number[]): number {
  let highest = -Infinity;
  let from = 0;
  for (let k = 0; k < rise.length; k++) {
    while (timeS[k]! - timeS[from]! > PEAK_LINE_S) from++;
    const count = k - from + 1;
    if (count < 4) continue;
    let [sx, sy, sxx, sxy] = [0, 0, 0, 0];
    for (let j = from; j <= k; j++) {
      const x = timeS[j]! - timeS[k]!;
      sx += x;
      sy += rise[j]!;
      sxx += x * x;
      sxy += x * rise[j]!;
    }
    const slope = (count * sxy - sx * sy) / (count * sxx - sx * sx);
    highest = Math.max(highest, (sy - slope * sx) / count);
  }
  return Number.isFinite(highest) ? highest : Math.max(...rise);
}
