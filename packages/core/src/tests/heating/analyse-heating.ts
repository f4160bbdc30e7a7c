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
import { bestFit, curvatureAt, peakOf, reduceToPoints, tauAt, type HeatFit } from './fit-heating.js';
import type { TestContext } from '../test-context.js';
import { correlationInflation } from '../uneven-scatter.js';

const LEAST_SAMPLES = 60;
const LEAST_RISE_K = 4;
const SENSOR_LIMIT_K = 1;

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
  const nothing: HeatingResult = { figures: [], pictures: [], fit: null };
  const log = set ? sliceByTime(whole, set.fromS, set.toS) : whole;
  if (!log) {
    warn('stretch-empty', 'The chosen part holds fewer than five samples: no curve can be fitted to it.');
    return nothing;
  }
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
  const points = reduceToPoints(log, motorTemperature, current, power, log.channels.speed);
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
  fit: HeatFit,
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
