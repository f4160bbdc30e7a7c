import type { CleanLog } from '../../logs/index.js';

/** Copper's change of resistance, 1/K. */
const COPPER_PER_K = 0.00393;
/** Enough points for a curve of hours; more only cost time. */
const MOST_POINTS = 3000;
const SHORTEST_S = 30;
const LONGEST_S = 6 * 3600;
const GRID = 60;
const SLOWEST_MPS = 1;
/** Length of the line whose end is a temperature without its noise. */
const PEAK_LINE_S = 40;

export interface HeatFit {
  readonly timeConstantS: number;
  /** Start above the air, and rise rate per unit of each input. */
  readonly coefficients: readonly [number, number];
  readonly squares: number;
  readonly residuals: Float64Array;
}

export interface HeatPoints {
  readonly timeS: readonly number[];
  readonly watts: readonly number[];
  readonly riseK: (airC: number) => number[];
  readonly inputs: (airC: number) => { name: string; values: number[] }[];
}

/** Readings thinned to what a slow curve needs; loads are means over the time between two of them. */
export function reduceToPoints(
  log: CleanLog,
  temperature: Float64Array,
  current: Float64Array | undefined,
  power: Float64Array | undefined,
  speed: Float64Array | undefined,
): HeatPoints {
  const every = Math.max(1, Math.ceil(temperature.length / MOST_POINTS));
  const timeS: number[] = [];
  const celsius: number[] = [];
  const squares: number[] = [];
  const watts: number[] = [];
  const forces: number[] = [];
  let sums = { t: 0, c: 0, i: 0, p: 0, f: 0, n: 0, ni: 0, np: 0 };
  for (let k = 0; k < temperature.length; k++) {
    if (!Number.isNaN(temperature[k]!)) {
      sums.t += log.timeS[k]!;
      sums.c += temperature[k]!;
      sums.n++;
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
    sums = { t: 0, c: 0, i: 0, p: 0, f: 0, n: 0, ni: 0, np: 0 };
  }
  const copper = (k: number): number => 1 + COPPER_PER_K * (celsius[k]! - 25);
  return {
    timeS,
    watts,
    riseK: (airC) => celsius.map((value) => value - airC),
    inputs: () => [
      ...(current ? [{ name: 'current', values: squares.map((square, k) => square * copper(k)) }] : []),
      ...(power ? [{ name: 'power', values: watts }] : []),
      // The motor's own current follows its torque, and torque is power over speed.
      ...(power && speed ? [{ name: 'force', values: forces.map((force, k) => force * copper(k)) }] : []),
    ],
  };
}

/** Start and load response of the linear system for one time constant: exact for a load that is constant between points. */
function respond(timeS: readonly number[], load: readonly number[], tau: number): [Float64Array, Float64Array] {
  const n = timeS.length;
  const [started, drivenBy] = [new Float64Array(n), new Float64Array(n)];
  let start = 1;
  let driven = 0;
  started[0] = 1;
  for (let k = 1; k < n; k++) {
    const decay = Math.exp(-(timeS[k]! - timeS[k - 1]!) / tau);
    start *= decay;
    driven = driven * decay + tau * (1 - decay) * ((load[k]! + load[k - 1]!) / 2);
    started[k] = start;
    drivenBy[k] = driven;
  }
  return [started, drivenBy];
}

/** Least squares of the rise on both responses; undefined where they are one. */
function fitFor(
  timeS: readonly number[],
  rise: readonly number[],
  load: readonly number[],
  tau: number,
): HeatFit | undefined {
  const [a, b] = respond(timeS, load, tau);
  let [aa, ab, bb, ay, by] = [0, 0, 0, 0, 0];
  for (let k = 0; k < rise.length; k++) {
    aa += a[k]! * a[k]!;
    ab += a[k]! * b[k]!;
    bb += b[k]! * b[k]!;
    ay += a[k]! * rise[k]!;
    by += b[k]! * rise[k]!;
  }
  const determinant = aa * bb - ab * ab;
  if (!(determinant > 1e-12 * aa * bb)) return undefined;
  const coefficients = [(ay * bb - by * ab) / determinant, (by * aa - ay * ab) / determinant] as const;
  const residuals = Float64Array.from(rise, (value, k) => value - coefficients[0] * a[k]! - coefficients[1] * b[k]!);
  let squares = 0;
  for (const residual of residuals) squares += residual * residual;
  return { timeConstantS: tau, coefficients, squares, residuals };
}

export function bestFit(timeS: readonly number[], rise: readonly number[], load: readonly number[]): HeatFit {
  let best: HeatFit | undefined;
  const look = (tau: number): void => {
    const fit = fitFor(timeS, rise, load, tau);
    if (fit && (!best || fit.squares < best.squares)) best = fit;
  };
  for (let k = 0; k <= GRID; k++) look(SHORTEST_S * (LONGEST_S / SHORTEST_S) ** (k / GRID));
  let step = (LONGEST_S / SHORTEST_S) ** (1 / GRID);
  for (let round = 0; round < 24; round++) {
    const centre = best!.timeConstantS;
    look(centre * step);
    look(centre / step);
    step = Math.sqrt(step);
  }
  return best!;
}

/** Half of the second derivative of the sum of squares with respect to the time constant. */
export function curvatureAt(
  timeS: readonly number[],
  rise: readonly number[],
  load: readonly number[],
  fit: HeatFit,
): number {
  const h = 0.01 * fit.timeConstantS;
  const [above, below] = [
    fitFor(timeS, rise, load, fit.timeConstantS + h),
    fitFor(timeS, rise, load, fit.timeConstantS - h),
  ];
  return above && below ? (above.squares - 2 * fit.squares + below.squares) / (2 * h * h) : 0;
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

export function tauAt(points: HeatPoints, airC: number, name: string): number {
  const load = points.inputs(airC).find((input) => input.name === name)!.values;
  return bestFit(points.timeS, points.riseK(airC), load).timeConstantS;
}
