import type { CleanLog } from '../../logs/index.js';
import { findRoot } from '../../numeric/index.js';
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
import { chooseHeatFit } from './choose-heat-fit.js';
import { scatterOf, settledOf, type HeatFit, type HeatModel, type HeatReadings } from './heat-model.js';
import { peakOf, reduceToPoints } from './heat-points.js';
import type { TestContext } from '../test-context.js';

const LEAST_SAMPLES = 60;
const LEAST_RISE_K = 4;
const SENSOR_LIMIT_K = 1;
/** A motor has more nodes than the readings show: what that leaves open of its time constant, as a share. */
const FORM_LIMIT = 0.02;
/** In slowest time constants: a rise closer than this to settled never gets there. */
const LONG_ENOUGH = 40;

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
 * Method: C·dT/dt = P_loss − (T − T_air)/R, solved exactly for a loss that is straight between samples. P_loss follows
 * battery current squared, power, or force (power ÷ speed) squared, the squares with copper's resistance at the measured
 * temperature: the one that fits best, power beside a square or a second node only where AICc says they earn it.
 * Standard errors come from the linearised fit of all parameters, widened by the residuals' autocorrelation.
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
  if (points.loads.length === 0) {
    warn('no-load', 'The log has neither current nor power: the loss that heats the motor is not known.');
    return nothing;
  }
  const fit = chooseHeatFit({ timeS: points.timeS, riseK: rise, loads: points.loads });
  const scatter = fit && scatterOf(fit);
  if (!fit || !scatter || !(scatter.errorOf(slowestOf) < slowestOf(fit.model))) {
    warn(
      'no-time-constant',
      'The curve fits any time constant: log the cooling as well, until half of the rise is gone.',
    );
    return nothing;
  }
  const span = { fromS: log.timeS[0]!, toS: log.timeS.at(-1)! };
  const { model, readings } = fit;
  const nodes = model.timeConstantsS.length;
  const names = ['motor temperature', ...readings.loads.map(({ name }) => name), 'air temperature'];
  /** A figure of the fitted curve: how far the readings, the air and the curve's simplicity leave it open. */
  const put = (
    of: (at: HeatModel) => number,
    parts: Pick<Parameters<typeof makeFigure>[0], 'formula' | 'key' | 'label' | 'substituted' | 'unit'>,
  ): Figure => {
    const value = of(model);
    const off = (at: HeatModel): number => Math.abs(of(at) - value);
    const contributions: Contribution[] = [
      {
        source: 'scatter about the fitted curve',
        standardUncertainty: scatter.errorOf(of),
        degreesOfFreedom: scatter.degreesOfFreedom,
      },
      {
        source: nodes === 1 ? 'one node for the motor' : 'two nodes for the motor',
        standardUncertainty: fromLimit(off(slowed(model, 1 + FORM_LIMIT))),
      },
      { source: 'loss that follows the load only nearly', standardUncertainty: fromLimit(off(driven(model, 1.05))) },
    ];
    return makeFigure({ n: rise.length, inputs: names, ...span, value, contributions, ...parts });
  };
  const main = readings.loads.at(-1)!.values;
  const loadedAt = loadedPoints(main);
  const meanLoads = readings.loads.map(({ values }) => meanAt(values, loadedAt));
  const settled = (at: HeatModel): number => sum(settledOf(at, meanLoads));
  const hottest = airC + peakOf(points.timeS, rise);
  const tau = slowestOf(model);
  const settledK = settled(model);
  const curve =
    nodes === 1
      ? `${num(tau)} s`
      : `${num(tau)} s of the body, beside a quicker node of ${num(model.timeConstantsS[0]!)} s`;
  const figures = [
    put(slowestOf, {
      key: 'timeConstant',
      label: 'Time constant of the motor',
      unit: 's',
      formula: 'R·C of C·dT/dt = P_loss − (T − T_air)/R',
      substituted: `${curve}; the curve is met to ${num(scatter.residualK)} K`,
    }),
    put((at) => halfLifeOf(at, meanLoads), {
      key: 'coolingHalfLife',
      label: 'Half-life of cooling',
      unit: 's',
      formula: nodes === 1 ? 'ln 2 × time constant' : 'when both nodes together have lost half of their settled rise',
      substituted: nodes === 1 ? `0.6931 × ${num(tau)} s` : `${num(halfLifeOf(model, meanLoads))} s`,
    }),
    makeFigure({
      n: rise.length,
      inputs: names,
      ...span,
      key: 'peakTemperature',
      label: 'Highest motor temperature',
      value: hottest,
      unit: '°C',
      contributions: [
        {
          source: 'scatter about the fitted curve',
          standardUncertainty: (scatter.residualK * scatter.inflation) / Math.sqrt(rise.length / 20),
        },
        { source: 'temperature sensor', standardUncertainty: fromLimit(SENSOR_LIMIT_K), isSystematic: true },
      ],
      formula: 'highest end of a line through the 40 s before',
      substituted: `${num(hottest)} °C`,
    }),
    put(settled, {
      key: 'riseAtLoad',
      label: 'Rise at this load when settled',
      unit: 'K',
      formula: 'rise per second of the load × time constant',
      substituted: `${num(settledK)} K at the mean load of the log`,
    }),
  ];
  const limitC = context.temperatureLimitC;
  if (limitC !== undefined) {
    const allowed = limitC - airC - model.airOffsetK;
    figures.push(
      put((at) => limitC - airC - at.airOffsetK - settled(at), {
        key: 'headroom',
        label: 'Headroom to the limit at this load',
        unit: 'K',
        formula: 'limit − air − settled rise',
        substituted: `${num(limitC)} °C − ${num(airC + model.airOffsetK)} °C − ${num(settledK)} K`,
      }),
    );
    if (!(settledK > allowed && allowed > 0))
      warn('limit-not-reached', 'At this load the motor settles below its limit: no time to the limit.');
    else if (settledK - allowed < scatter.errorOf(settled))
      warn('limit-not-reached', 'The motor settles so close to its limit that the time to it cannot be told.');
    else
      figures.push(
        put((at) => timeTo(limitC - airC - at.airOffsetK, at, meanLoads), {
          key: 'timeToLimit',
          label: 'Time to the limit at this load, from the air',
          unit: 's',
          formula:
            nodes === 1 ? '−τ · ln(1 − allowed rise ÷ settled rise)' : 'when both nodes together reach the limit',
          substituted: `${num(timeTo(allowed, model, meanLoads))} s`,
        }),
      );
    const watts = meanAt(points.watts, loadedAt);
    if (allowed > 0 && watts > 0 && settledK > 0)
      figures.push(
        put((at) => watts * shareOfLoad(limitC - airC - at.airOffsetK, at, readings, meanLoads), {
          key: 'continuousLoad',
          label: 'Load that can be held for ever at this limit',
          unit: 'W',
          formula: 'mean load × the share of it whose settled rise is the allowed one',
          substituted: `${num(watts)} W × ${num(shareOfLoad(allowed, model, readings, meanLoads))}`,
        }),
      );
  }
  figures.push(...findCutBack(log, warn));
  return { figures, pictures: picturesOf(points.timeS, airC, rise, fit, context), fit: span };
}

const DRAWN_POINTS = 300;

function picturesOf(
  timeS: readonly number[],
  airC: number,
  rise: readonly number[],
  fit: HeatFit,
  { temperatureLimitC }: TestContext,
): Picture[] {
  const every = Math.max(1, Math.ceil(timeS.length / DRAWN_POINTS));
  const kept = timeS.flatMap((_, k) => (k % every === 0 ? [k] : []));
  const six = (value: number): number => Number(value.toPrecision(6));
  const x = kept.map((k) => six(timeS[k]! / 60));
  const time = { label: 'Time', unit: 'min' } as const;
  return [
    {
      key: 'temperature',
      title: 'Motor temperature with the fitted curve',
      x: time,
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
    },
    {
      key: 'residuals',
      title: 'Readings beside the curve: what it leaves over',
      x: time,
      y: { label: 'Reading less curve', unit: 'K' },
      series: [{ label: 'Reading less curve', drawAs: 'points', x, y: kept.map((k) => six(fit.residuals[k]!)) }],
      lines: [],
    },
  ];
}

const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);
const slowestOf = ({ timeConstantsS }: HeatModel): number => timeConstantsS.at(-1)!;

/** The slowest node slower by a factor; it then settles higher by the same. */
function slowed(model: HeatModel, factor: number): HeatModel {
  const last = model.timeConstantsS.length - 1;
  return { ...model, timeConstantsS: model.timeConstantsS.map((tau, k) => (k === last ? tau * factor : tau)) };
}
function driven(model: HeatModel, factor: number): HeatModel {
  return { ...model, gains: model.gains.map((gain) => gain.map((value) => value * factor)) };
}

/** Time until half of a settled rise is left, s. */
function halfLifeOf(model: HeatModel, meanLoads: readonly number[]): number {
  const parts = settledOf(model, meanLoads);
  const left = (t: number): number =>
    sum(parts.map((part, node) => part * Math.exp(-t / model.timeConstantsS[node]!))) / sum(parts) - 0.5;
  return findRoot(left, 0, LONG_ENOUGH * slowestOf(model));
}

/** Time from the air to a rise, s; NaN where it is never reached. */
function timeTo(allowedK: number, model: HeatModel, meanLoads: readonly number[]): number {
  const parts = settledOf(model, meanLoads);
  if (!(sum(parts) > allowedK)) return NaN;
  const short = (t: number): number =>
    sum(parts.map((part, node) => part * (1 - Math.exp(-t / model.timeConstantsS[node]!)))) - allowedK;
  return findRoot(short, 0, LONG_ENOUGH * slowestOf(model));
}

/** Share s of the load whose settled rise is the allowed one: what follows power grows with s, what follows a square with s². */
function shareOfLoad(
  allowedK: number,
  model: HeatModel,
  { loads }: HeatReadings,
  meanLoads: readonly number[],
): number {
  let [linear, square] = [0, 0];
  loads.forEach(({ name }, j) => {
    const rise = sum(
      settledOf(
        model,
        meanLoads.map((load, k) => (k === j ? load : 0)),
      ),
    );
    if (name === 'power') linear += rise;
    else square += rise;
  });
  if (square === 0) return allowedK / linear;
  return (-linear + Math.sqrt(linear ** 2 + 4 * square * allowedK)) / (2 * square);
}

/** Points at which the load that heats is there. */
function loadedPoints(load: readonly number[]): number[] {
  const most = load.reduce((a, b) => Math.max(a, b), 0);
  return load.flatMap((value, k) => (value > 0.2 * most ? [k] : []));
}
function meanAt(values: readonly number[], points: readonly number[]): number {
  return points.length > 0 ? sum(points.map((k) => values[k]!)) / points.length : 0;
}

function meanOf(values: Float64Array | undefined): number | undefined {
  const known = values?.filter((value) => !Number.isNaN(value));
  return known && known.length > 0 ? known.reduce((sum, value) => sum + value, 0) / known.length : undefined;
}
