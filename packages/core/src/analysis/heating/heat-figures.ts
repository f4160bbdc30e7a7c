import { say } from '../../units/index.js';
import { derivationQuantity as qty, derivationNumber as num, fromLimit, makeFigure } from '../figure.js';
import type { Contribution, Figure, Warn } from '../figure.js';
import { driven, halfLifeOf, settledRise, shareOfLoad, slowed, slowestOf, timeToRise } from './heat-behaviour.js';
import type { HeatFit, HeatModel } from './heat-model.js';
import type { HeatScatter } from './heat-scatter.js';
import { peakOf } from './heat-points.js';

const SENSOR_LIMIT_K = 1;
/** A motor has more nodes than the readings show: what that leaves open of its time constant, as a share. */
const FORM_LIMIT = 0.02;
const LOSS_LIMIT = 0.05;
/** Points with this share of the strongest load are those under load. */
const LOADED_SHARE = 0.2;

export interface FittedHeat {
  readonly fit: HeatFit;
  readonly scatter: HeatScatter;
  readonly airC: number;
  /** Electrical power at each point, W; 0 where it is not known. */
  readonly watts: readonly number[];
  readonly limitC: number | undefined;
  readonly span: { readonly fromS: number; readonly toS: number };
}

type Words = Pick<Parameters<typeof makeFigure>[0], 'formula' | 'key' | 'label' | 'substituted' | 'unit'>;

/** What a fitted curve of warming and cooling tells; what rests on a load only where one was seen. */
export function heatFigures(fitted: FittedHeat, warn: Warn): Figure[] {
  const { fit, scatter, airC, span } = fitted;
  const { model, readings } = fit;
  const nodes = model.timeConstantsS.length;
  const common = {
    n: readings.riseK.length,
    inputs: ['motor temperature', ...readings.loads.map(({ name }) => name), 'air temperature'],
    ...span,
  };
  /** A figure of the curve: how far the readings, the noted air, and the curve's simplicity leave it open. */
  const put = (of: (at: HeatModel) => number, words: Words): Figure => {
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
      {
        source: 'loss that follows the load only nearly',
        standardUncertainty: fromLimit(off(driven(model, 1 + LOSS_LIMIT))),
      },
    ];
    return makeFigure({ ...common, value, contributions, ...words });
  };
  const meanLoads = meanLoadsOf(fit);
  const tau = slowestOf(model);
  const hottest = airC + peakOf(readings.timeS, readings.riseK);
  const figures = [
    put(slowestOf, {
      key: 'timeConstant',
      label: 'Time constant of the motor',
      unit: 's',
      formula: 'R·C of C·dT/dt = P_loss − (T − T_air)/R',
      substituted: `${num(tau)} s${nodes === 1 ? '' : ` of the body, beside a quicker node of ${num(model.timeConstantsS[0]!)} s`}; the curve is met to ${num(scatter.residualK)} K`,
    }),
    put((at) => halfLifeOf(at, meanLoads), {
      key: 'coolingHalfLife',
      label: 'Cooling half-life',
      unit: 's',
      formula: nodes === 1 ? 'ln 2 × time constant' : 'when both nodes together have lost half of their rise',
      substituted: nodes === 1 ? `0.6931 × ${num(tau)} s` : `${num(halfLifeOf(model, meanLoads))} s`,
    }),
    makeFigure({
      ...common,
      key: 'peakTemperature',
      label: 'Peak motor temperature',
      value: hottest,
      unit: '°C',
      contributions: [
        {
          source: 'scatter about the fitted curve',
          standardUncertainty: (scatter.residualK * scatter.inflation) / Math.sqrt(common.n / 20),
        },
        { source: 'temperature sensor', standardUncertainty: fromLimit(SENSOR_LIMIT_K), isSystematic: true },
      ],
      formula: 'highest end of a line through the 40 s before',
      substituted: say`${qty(hottest, '°C')}`,
    }),
  ];
  if (meanLoads.length > 0) {
    const settledK = settledRise(model, meanLoads);
    figures.push(
      put((at) => settledRise(at, meanLoads), {
        key: 'riseAtLoad',
        label: 'Settled rise at this load',
        unit: 'K',
        formula: 'rise per second of the load × time constant',
        substituted: `${num(settledK)} K at the mean load of the log`,
      }),
      ...limitFigures(fitted, meanLoads, put, warn),
    );
  }
  return figures;
}

/** Headroom to the limit, the time to it, and the load that stays below it. */
function limitFigures(
  { fit: { model, readings }, scatter, airC, watts, limitC }: FittedHeat,
  meanLoads: readonly number[],
  put: (of: (at: HeatModel) => number, words: Words) => Figure,
  warn: Warn,
): Figure[] {
  if (limitC === undefined) return [];
  const allowedK = (at: HeatModel): number => limitC - airC - at.airOffsetK;
  const settledK = settledRise(model, meanLoads);
  const allowed = allowedK(model);
  const figures = [
    put((at) => allowedK(at) - settledRise(at, meanLoads), {
      key: 'headroom',
      label: 'Headroom to the limit at this load',
      unit: 'K',
      formula: 'limit − air − settled rise',
      substituted: `${num(limitC)} °C − ${num(limitC - allowed)} °C − ${num(settledK)} K`,
    }),
  ];
  const unsureK = scatter.errorOf((at) => allowedK(at) - settledRise(at, meanLoads));
  if (!(allowed > unsureK)) {
    warn('limit-below-air', 'The limit lies no higher than the air: no load can be held below it.');
    return figures;
  }
  if (!(settledK > allowed))
    warn('limit-not-reached', 'At this load the motor settles below its limit: no time to the limit.');
  else if (settledK - allowed < unsureK)
    warn('limit-not-reached', 'The motor settles so close to its limit that the time to it cannot be worked out.');
  else
    figures.push(
      put((at) => timeToRise(allowedK(at), at, meanLoads), {
        key: 'timeToLimit',
        label: 'Time to the limit at this load, from the air',
        unit: 's',
        formula:
          model.timeConstantsS.length === 1
            ? '−τ · ln(1 − allowed rise ÷ settled rise)'
            : 'when both nodes together reach the limit',
        substituted: `${num(timeToRise(allowed, model, meanLoads))} s`,
      }),
    );
  const meanWatts = meanAt(watts, loadedPoints(readings.loads.at(-1)!.values));
  if (meanWatts > 0)
    figures.push(
      put((at) => meanWatts * shareOfLoad(allowedK(at), at, readings, meanLoads), {
        key: 'continuousLoad',
        label: 'Continuous load at this limit',
        unit: 'W',
        formula: 'mean load × the share of it whose settled rise is the allowed one',
        substituted: `${num(meanWatts)} W × ${num(shareOfLoad(allowed, model, readings, meanLoads))}`,
      }),
    );
  return figures;
}

/** Mean of each load while the motor is under load. */
function meanLoadsOf({ readings: { loads } }: HeatFit): number[] {
  const main = loads.at(-1);
  if (!main) return [];
  const points = loadedPoints(main.values);
  return loads.map(({ values }) => meanAt(values, points));
}
function loadedPoints(load: readonly number[]): number[] {
  const most = load.reduce((a, b) => Math.max(a, b), 0);
  return load.flatMap((value, k) => (value > LOADED_SHARE * most ? [k] : []));
}
function meanAt(values: readonly number[], points: readonly number[]): number {
  return points.length > 0 ? points.reduce((sum, k) => sum + values[k]!, 0) / points.length : 0;
}
