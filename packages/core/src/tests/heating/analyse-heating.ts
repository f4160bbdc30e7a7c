import type { CleanLog } from '../../logs/index.js';
import {
  derivationNumber as num,
  fromLimit,
  makeFigure,
  type Contribution,
  type Figure,
  type Warn,
} from '../figure.js';
import { sliceByTime } from '../cut-log.js';
import type { Picture } from '../findings.js';
import { electricalPower } from '../range/ride-integrals.js';
import { findCutBack } from './cut-back.js';
import type { TestContext } from '../test-context.js';
import { correlationInflation } from '../uneven-scatter.js';

/** Copper's change of resistance, 1/K. */
const COPPER_PER_K = 0.00393;
const LEAST_SAMPLES = 60;
const LEAST_RISE_K = 4;
/** Enough points for a curve of hours; more only cost time. */
const MOST_POINTS = 3000;
const SHORTEST_S = 30;
const LONGEST_S = 6 * 3600;
const GRID = 60;
const SENSOR_LIMIT_K = 1;
const SLOWEST_MPS = 1;
/** Length of the line whose end is a temperature without its noise. */
const PEAK_LINE_S = 40;

interface Fit {
  readonly timeConstantS: number;
  /** Start above the air, and rise rate per unit of each input. */
  readonly coefficients: readonly [number, number];
  readonly squares: number;
  readonly residuals: Float64Array;
}

export interface HeatingResult {
  readonly figures: readonly Figure[];
  readonly pictures: readonly Picture[];
  /** The part that the curve is fitted to. */
  readonly fit: { readonly fromS: number; readonly toS: number } | null;
}

/**
 * Warming and cooling of a motor: `timeConstant` s, `coolingHalfLife` s, `peakTemperature` °C, `riseAtLoad` K, and with a
 * limit `headroom` K, `timeToLimit` s, `continuousLoad` W; where power was cut back, `cutBackTime` s and `cutBackTemperature` °C.
 *
 * Method: C·dT/dt = P_loss − (T − T_air)/R, solved exactly for a loss that is constant between samples; P_loss is one
 * term: battery current squared, power, or force (power ÷ speed) squared, the squares with copper's resistance at the
 * measured temperature; the one that fits best is taken and named. For a given time constant the
 * fit is linear; the time constant is found on a logarithmic grid and refined. Its standard error comes from the
 * curvature of the sum of squares, widened by the residuals' autocorrelation.
 * Needs motor temperature over time with a rise of 4 K or more, and the air's temperature.
 */
export function analyseHeating(whole: CleanLog, context: TestContext, warn: Warn): HeatingResult {
  const set = context.spans?.find(({ kind }) => kind === 'fit');
  const log = (set && sliceByTime(whole, set.fromS, set.toS)) ?? whole;
  const nothing: HeatingResult = { figures: [], pictures: [], fit: null };
  const { motorTemperature, current } = log.channels;
  if (!motorTemperature || !log.hasClock) {
    warn('no-motor-temperature', 'Heating needs the motor temperature over time; this log has none.');
    return nothing;
  }
  const airC = context.ambientC ?? meanOf(log.channels.airTemperature) ?? context.airTemperatureC;
  if (airC === undefined) {
    warn('no-air-temperature', 'Heating needs the temperature of the air: note it with the outing.');
    return nothing;
  }
  const power = electricalPower(log.channels)?.powerW;
  const points = reduce(log, motorTemperature, current, power, log.channels.speed);
  if (points.timeS.length < LEAST_SAMPLES) {
    warn('too-few-samples', `Heating needs ${LEAST_SAMPLES} readings of the motor temperature or more.`);
    return nothing;
  }
  const rise = points.riseK(airC);
  if (Math.max(...rise) - Math.min(...rise) < LEAST_RISE_K) {
    warn(
      'too-little-rise',
      `The motor's temperature changes by less than ${LEAST_RISE_K} K: no time constant follows from it.`,
    );
    return nothing;
  }
  const inputs = points.inputs(airC);
  if (inputs.length === 0) {
    warn('no-load', 'The log has neither current nor power: the loss that heats the motor is not known.');
    return nothing;
  }
  const fits = inputs.map((input) => ({ input, fit: bestFit(points.timeS, rise, input.values) }));
  const best = fits.reduce((a, b) => (b.fit.squares < a.fit.squares ? b : a));
  const { fit } = best;
  const n = rise.length;
  const inflation = correlationInflation(fit.residuals);
  const variance = fit.squares / (n - 3);
  const curvature = curvatureAt(points.timeS, rise, best.input.values, fit);
  const span = { fromS: log.timeS[0]!, toS: log.timeS.at(-1)! };
  const residualK = Math.sqrt(variance);
  if (!(curvature > 0)) {
    warn(
      'no-time-constant',
      'The curve fits any time constant: log the cooling as well, until half of the rise is gone.',
    );
    return nothing;
  }
  const tauError = Math.sqrt(variance / curvature) * inflation;
  const tau = fit.timeConstantS;
  const names = ['motor temperature', best.input.name, 'air temperature'];
  const own: Contribution[] = [
    {
      source: 'scatter about the fitted curve',
      standardUncertainty: tauError,
      degreesOfFreedom: Math.max(3, Math.round((n - 3) / inflation ** 2)),
    },
    // An air one degree off bends the end of the cooling.
    {
      source: 'air temperature',
      standardUncertainty: Math.abs(tauAt(points, airC + 1, best.input.name) - tau) / Math.sqrt(3),
    },
    // One node for a motor that has a winding and a shell.
    { source: 'one node for the motor', standardUncertainty: fromLimit(0.04 * tau) },
  ];
  const put = (
    parts: Pick<
      Parameters<typeof makeFigure>[0],
      'contributions' | 'formula' | 'key' | 'label' | 'substituted' | 'unit' | 'value'
    >,
  ): Figure => makeFigure({ n, inputs: names, ...span, ...parts });
  const scaled = (factor: number): Contribution[] =>
    own.map((part) => ({ ...part, standardUncertainty: part.standardUncertainty * factor }));
  const hottest = airC + peakOf(points.timeS, rise);
  const figures = [
    put({
      key: 'timeConstant',
      label: 'Time constant of the motor',
      value: tau,
      unit: 's',
      contributions: own,
      formula: 'R·C of C·dT/dt = P_loss − (T − T_air)/R',
      substituted: `${num(tau)} s; the curve is met to ${num(residualK)} K`,
    }),
    put({
      key: 'coolingHalfLife',
      label: 'Half-life of cooling',
      value: Math.LN2 * tau,
      unit: 's',
      contributions: scaled(Math.LN2),
      formula: 'ln 2 × time constant',
      substituted: `0.6931 × ${num(tau)} s`,
    }),
    put({
      key: 'peakTemperature',
      label: 'Highest motor temperature',
      value: hottest,
      unit: '°C',
      contributions: [
        { source: 'scatter about the fitted curve', standardUncertainty: (residualK * inflation) / Math.sqrt(n / 20) },
        { source: 'temperature sensor', standardUncertainty: fromLimit(SENSOR_LIMIT_K), isSystematic: true },
      ],
      formula: 'highest end of a line through the 40 s before',
      substituted: `${num(hottest)} °C`,
    }),
  ];
  const loaded = best.input.values.filter((value) => value > 0.2 * Math.max(...best.input.values));
  const meanLoad = loaded.reduce((sum, value) => sum + value, 0) / loaded.length;
  const settledK = fit.coefficients[1] * tau * meanLoad;
  const gain = { source: 'gain of the load', standardUncertainty: fromLimit(0.05 * settledK) };
  figures.push(
    put({
      key: 'riseAtLoad',
      label: 'Rise at this load when settled',
      value: settledK,
      unit: 'K',
      contributions: [...scaled(settledK / tau), gain],
      formula: 'rise per second of the load × time constant',
      substituted: `${num(settledK)} K at the mean load of the log`,
    }),
  );
  const limitC = context.temperatureLimitC;
  if (limitC !== undefined) {
    const headroom = limitC - airC - settledK;
    figures.push(
      put({
        key: 'headroom',
        label: 'Headroom to the limit at this load',
        value: headroom,
        unit: 'K',
        contributions: [...scaled(settledK / tau), gain],
        formula: 'limit − air − settled rise',
        substituted: `${num(limitC)} °C − ${num(airC)} °C − ${num(settledK)} K`,
      }),
    );
    const allowed = limitC - airC;
    if (settledK > allowed && allowed > 0) {
      const seconds = -tau * Math.log(1 - allowed / settledK);
      // t = −τ ln(1 − a/s): both τ and s move it.
      const bySettled = (tau * allowed) / settledK / (settledK - allowed);
      figures.push(
        put({
          key: 'timeToLimit',
          label: 'Time to the limit at this load, from the air',
          value: seconds,
          unit: 's',
          contributions: [
            ...scaled(seconds / tau),
            { ...gain, standardUncertainty: gain.standardUncertainty * bySettled },
          ],
          formula: '−τ · ln(1 − allowed rise ÷ settled rise)',
          substituted: `${num(seconds)} s`,
        }),
      );
    } else warn('limit-not-reached', 'At this load the motor settles below its limit: no time to the limit.');
    const watts = meanOfLoaded(points.watts, best.input.values);
    if (allowed > 0 && watts > 0 && settledK > 0) {
      // A loss that follows the square of the load leaves room for its root.
      const power = best.input.name === 'power' ? 1 : 0.5;
      const value = watts * (allowed / settledK) ** power;
      figures.push(
        put({
          key: 'continuousLoad',
          label: 'Load that can be held for ever at this limit',
          value,
          unit: 'W',
          contributions: [...scaled((power * value) / tau), { ...gain, standardUncertainty: fromLimit(0.05 * value) }],
          formula: power === 1 ? 'mean load × allowed ÷ settled rise' : 'mean load × √(allowed ÷ settled rise)',
          substituted: `${num(watts)} W × ${power === 1 ? '' : '√'}(${num(allowed)} K ÷ ${num(settledK)} K)`,
        }),
      );
    }
  }
  figures.push(...findCutBack(log, warn));
  return { figures, pictures: [pictureOf(points.timeS, airC, rise, fit, context)], fit: span };
}

const DRAWN_POINTS = 300;

function pictureOf(
  timeS: readonly number[],
  airC: number,
  rise: readonly number[],
  fit: Fit,
  { temperatureLimitC }: TestContext,
): Picture {
  const every = Math.max(1, Math.ceil(timeS.length / DRAWN_POINTS));
  const kept = timeS.flatMap((_, k) => (k % every === 0 ? [k] : []));
  const six = (value: number): number => Number(value.toPrecision(6));
  const x = kept.map((k) => six(timeS[k]! / 60));
  return {
    key: 'temperature',
    title: 'Motor temperature with the fitted curve',
    x: { label: 'Time', unit: 'min' },
    y: { label: 'Motor temperature', unit: '°C' },
    series: [
      { label: 'Readings', drawAs: 'points', x, y: kept.map((k) => six(airC + rise[k]!)) },
      {
        label: 'Fitted curve',
        drawAs: 'line',
        isFit: true,
        x,
        y: kept.map((k) => six(airC + rise[k]! - fit.residuals[k]!)),
      },
    ],
    lines: [
      { axis: 'y', at: airC, label: 'Air' },
      ...(temperatureLimitC === undefined ? [] : [{ axis: 'y' as const, at: temperatureLimitC, label: 'Limit' }]),
    ],
  };
}

/** Mean power while the load that heats is there. */
function meanOfLoaded(watts: readonly number[], load: readonly number[]): number {
  const most = load.reduce((a, b) => Math.max(a, b), 0);
  const loaded = watts.filter((_, k) => load[k]! > 0.2 * most);
  return loaded.length > 0 ? loaded.reduce((sum, one) => sum + one, 0) / loaded.length : 0;
}

function meanOf(values: Float64Array | undefined): number | undefined {
  const known = values?.filter((value) => !Number.isNaN(value));
  return known && known.length > 0 ? known.reduce((sum, value) => sum + value, 0) / known.length : undefined;
}

interface Points {
  readonly timeS: readonly number[];
  readonly watts: readonly number[];
  readonly riseK: (airC: number) => number[];
  readonly inputs: (airC: number) => { name: string; values: number[] }[];
}

/** Readings thinned to what a slow curve needs; loads are means over the time between two of them. */
function reduce(
  log: CleanLog,
  temperature: Float64Array,
  current: Float64Array | undefined,
  power: Float64Array | undefined,
  speed: Float64Array | undefined,
): Points {
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
): Fit | undefined {
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

function bestFit(timeS: readonly number[], rise: readonly number[], load: readonly number[]): Fit {
  let best: Fit | undefined;
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
function curvatureAt(timeS: readonly number[], rise: readonly number[], load: readonly number[], fit: Fit): number {
  const h = 0.01 * fit.timeConstantS;
  const [above, below] = [
    fitFor(timeS, rise, load, fit.timeConstantS + h),
    fitFor(timeS, rise, load, fit.timeConstantS - h),
  ];
  return above && below ? (above.squares - 2 * fit.squares + below.squares) / (2 * h * h) : 0;
}

/** Highest temperature without its noise: ends of lines through the readings just before, so that a sharp peak is not cut. */
function peakOf(timeS: readonly number[], rise: readonly number[]): number {
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

function tauAt(points: Points, airC: number, name: string): number {
  const load = points.inputs(airC).find((input) => input.name === name)!.values;
  return bestFit(points.timeS, points.riseK(airC), load).timeConstantS;
}
