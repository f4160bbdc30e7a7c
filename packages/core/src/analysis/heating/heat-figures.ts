import { say } from '../../units/index.js';
import { derivationQuantity as qty, derivationNumber as num, fromLimit, makeFigure } from '../figure.js';
import type { Contribution, Figure, Warn } from '../figure.js';
import {
  driven,
  halfLifeOf,
  loadsAt,
  settledHot,
  shareOfLoad,
  slowed,
  slowestOf,
  timeToRise,
  type BareLoads,
} from './heat-behaviour.js';
import { windScatter } from './choose-heat-fit.js';
import { fitHeat, type HeatFit, type HeatModel } from './heat-model.js';
import type { HeatScatter } from './heat-scatter.js';
import { peakOf } from './heat-points.js';
import { creepOf } from './load-creep.js';

const SENSOR_LIMIT_K = 1;
const CREEPING = 'more watts for the same pull once warmer';
/** A motor has more nodes than the readings show: what that leaves open of its time constant, as a share. */
const FORM_LIMIT = 0.02;
const LOSS_LIMIT = 0.05;
/** Points with this share of the strongest load are those under load. */
const LOADED_SHARE = 0.1;

export interface FittedHeat {
  readonly fit: HeatFit;
  readonly scatter: HeatScatter;
  readonly airC: number;
  /** Electrical power at each point, W; 0 where it is not known. */
  readonly watts: readonly number[];
  readonly limitC: number | undefined;
  readonly span: { readonly fromS: number; readonly toS: number };
}

type Words = Pick<Parameters<typeof makeFigure>[0], 'formula' | 'key' | 'label' | 'substituted' | 'unit'> & {
  readonly also?: readonly Contribution[];
};

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
  const put = (of: (at: HeatModel) => number, { also = [], ...words }: Words): Figure => {
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
      ...also,
    ];
    return makeFigure({ ...common, value, contributions, ...words });
  };
  const bare = meanLoadsOf(fit, airC);
  const settledK = bare && settledHot(model, bare, airC);
  const meanLoads = bare ? loadsAt(bare, airC + (settledK ?? 0)) : [];
  const { windShare = 0 } = readings;
  // Standing, the motor sheds only what the wind of riding does not.
  const standing = 1 / (1 - windShare);
  const wind = windScatter(fit, scatter.residualK, scatter.inflation);
  const standingU = wind.error / (1 - windShare);
  const cooling = coolingAlone(fit);
  const tau = slowestOf(model);
  const hottest = airC + peakOf(readings.timeS, readings.riseK);
  const figures = [
    put(slowestOf, {
      key: 'timeConstant',
      label: windShare > 0 ? 'Time constant of the motor while riding' : 'Time constant of the motor',
      unit: 's',
      formula: 'R·C of C·dT/dt = P_loss − (T − T_air)/R',
      ...(cooling !== undefined && windShare === 0
        ? {
            also: [
              {
                source: 'the cooling alone against the whole',
                standardUncertainty: fromLimit(Math.abs(cooling - tau)),
              },
            ],
          }
        : {}),
      ...(wind.error > 0 && {
        also: [
          {
            source: 'share of the wind of riding in the cooling',
            standardUncertainty: wind.tauPerShare * wind.error,
          },
        ],
      }),
      substituted: `${num(tau)} s${nodes === 1 ? '' : ` of the body, beside a quicker node of ${num(model.timeConstantsS[0]!)} s`}; the curve is met to ${num(scatter.residualK)} K`,
    }),
    put((at) => standing * halfLifeOf(at, meanLoads), {
      key: 'coolingHalfLife',
      label: windShare > 0 ? 'Cooling half-life, standing' : 'Cooling half-life',
      unit: 's',
      also: [
        ...(standingU > 0
          ? [
              {
                source: 'share of the wind of riding in the cooling',
                standardUncertainty: standing * halfLifeOf(model, meanLoads) * standingU,
              },
            ]
          : []),
        ...(cooling !== undefined && windShare === 0
          ? [
              {
                source: 'the cooling alone against the whole',
                standardUncertainty: fromLimit(Math.abs(Math.LN2 * (cooling - tau))),
              },
            ]
          : []),
      ],
      formula:
        windShare > 0
          ? 'ln 2 × time constant ÷ (1 − share of the wind)'
          : nodes === 1
            ? 'ln 2 × time constant'
            : 'when both nodes together have lost half of their rise',
      substituted:
        nodes === 1
          ? `0.6931 × ${num(tau)} s${windShare > 0 ? ` ÷ (1 − ${num(Number(windShare.toFixed(2)))})` : ''}`
          : `${num(halfLifeOf(model, meanLoads))} s`,
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
  if (!bare) return figures;
  if (settledK === undefined) {
    warn(
      'rise-without-end',
      'At this load the copper warms faster than the motor sheds it: the rise has no end, and there is no headroom. Less load, or cool it.',
    );
    return figures;
  }
  const hot = (at: HeatModel): number => settledHot(at, bare, airC) ?? NaN;
  const creepK = Math.abs((settledHot(model, creptMore(bare), airC) ?? Infinity) - settledK);
  if (!Number.isFinite(creepK)) {
    warn(
      'rise-without-end',
      'At this load the copper may warm faster than the motor sheds it: the rise may have no end, and there is no headroom. Less load, or cool it.',
    );
    return figures;
  }
  const creeping: Contribution[] = [{ source: CREEPING, standardUncertainty: creepK }];
  figures.push(
    put(hot, {
      also: creeping,
      key: 'riseAtLoad',
      label: 'Settled rise at this load',
      unit: 'K',
      formula: 'R · L(T): rise per second of the load × time constant, copper and load as they are once that warm',
      substituted: `${num(settledK)} K at the mean load of the log`,
    }),
  );
  if (windShare === 0 && cooling !== undefined && Math.abs(cooling / tau - 1) > COOLS_OTHERWISE) {
    warn(
      'cools-otherwise',
      `Standing, the motor cools with ${num(Math.round(cooling))} s instead of ${num(Math.round(tau))} s: it is cooled by riding, and the log does not tell by how much. No headroom from it; log the speed as well.`,
    );
    return figures;
  }
  figures.push(...limitFigures(fitted, bare, creeping, put, warn));
  return figures;
}

const CLOSE_TO_LIMIT = 'The motor settles so close to its limit that the time to it cannot be worked out.';

/** Headroom to the limit, the time to it, and the load that stays below it. */
function limitFigures(
  { fit: { model, readings }, scatter, airC, watts, limitC }: FittedHeat,
  bare: MeanLoads,
  creeping: readonly Contribution[],
  put: (of: (at: HeatModel) => number, words: Words) => Figure,
  warn: Warn,
): Figure[] {
  if (limitC === undefined) return [];
  const allowedK = (at: HeatModel): number => limitC - airC - at.airOffsetK;
  const hot = (at: HeatModel): number => settledHot(at, bare, airC) ?? Infinity;
  const settledK = hot(model);
  const allowed = allowedK(model);
  const figures = [
    put((at) => allowedK(at) - hot(at), {
      also: creeping,
      key: 'headroom',
      label: 'Headroom to the limit at this load',
      unit: 'K',
      formula: 'limit − air − settled rise',
      substituted: `${num(limitC)} °C − ${num(limitC - allowed)} °C − ${num(settledK)} K`,
    }),
  ];
  // At the limit the copper is as warm as the limit.
  const atLimit = loadsAt(bare, limitC);
  const unsureK = Math.hypot(
    scatter.errorOf((at) => allowedK(at) - hot(at)),
    ...creeping.map(({ standardUncertainty }) => standardUncertainty),
  );
  if (!(allowed > unsureK)) {
    warn('limit-below-air', 'The limit lies no higher than the air: no load can be held below it.');
    return figures;
  }
  if (!(settledK > allowed))
    warn('limit-not-reached', 'At this load the motor settles below its limit: no time to the limit.');
  else if (settledK - allowed < unsureK) warn('limit-not-reached', CLOSE_TO_LIMIT);
  else {
    const time = put((at) => timeToRise(allowedK(at), at, bare, airC), {
      key: 'timeToLimit',
      label: 'Time to the limit at this load, from the air',
      unit: 's',
      formula: 'until the nodes together have risen to the limit, copper and load as they are on the way',
      substituted: `${num(timeToRise(allowed, model, bare, airC))} s`,
    });
    // A motor that might as well settle below its limit has no such time.
    if (Number.isFinite(time.standardUncertainty)) figures.push(time);
    else warn('limit-not-reached', CLOSE_TO_LIMIT);
  }
  const meanWatts = meanAt(watts, loadedPoints(readings.loads.at(-1)!.values));
  const wattsBy = (loads: readonly number[]): number => meanWatts * shareOfLoad(allowed, model, readings, loads);
  if (meanWatts > 0)
    figures.push(
      put((at) => meanWatts * shareOfLoad(allowedK(at), at, readings, atLimit), {
        key: 'continuousLoad',
        label: 'Continuous load at this limit',
        unit: 'W',
        formula: 'mean load × the share of it whose settled rise is the allowed one',
        substituted: `${num(meanWatts)} W × ${num(shareOfLoad(allowed, model, readings, atLimit))}`,
        also: [
          {
            source: CREEPING,
            standardUncertainty: Math.abs(wattsBy(loadsAt(creptMore(bare), limitC)) - wattsBy(atLimit)),
          },
        ],
      }),
    );
  return figures;
}

/** Mean of each load from the first to the last of the riding, stops within it too, and how it creeps; undefined where there was none. */
function meanLoadsOf({ readings: { loads, riseK } }: HeatFit, airC: number): MeanLoads | undefined {
  const main = loads.at(-1);
  if (!main) return undefined;
  const points = loadedPoints(main.values);
  const least = LOADED_SHARE * meanAt(main.values, points);
  const ridden = points.filter((k) => main.values[k]! > least);
  const creeps = loads.map((load) => creepOf(load, riseK, ridden));
  return {
    values: loads.map(({ bare }) => meanAt(bare, points)),
    isCopper: loads.map(({ isCopper }) => isCopper),
    meanC: airC + meanAt(riseK, ridden),
    creepPerK: creeps.map(({ perK }) => perK),
    creepErrors: creeps.map(({ standardErrorPerK }) => standardErrorPerK),
  };
}
interface MeanLoads extends BareLoads {
  readonly creepErrors: readonly number[];
}
/** The loads creep together, since one motor warms: all by one standard error more. */
function creptMore(bare: MeanLoads): MeanLoads {
  return { ...bare, creepPerK: bare.creepPerK.map((perK, j) => perK + bare.creepErrors[j]!) };
}
function loadedPoints(load: readonly number[]): number[] {
  const most = load.reduce((a, b) => Math.max(a, b), 0);
  const first = load.findIndex((value) => value > LOADED_SHARE * most);
  const last = load.findLastIndex((value) => value > LOADED_SHARE * most);
  return first < 0 ? [] : Array.from({ length: last - first + 1 }, (_, k) => first + k);
}
function meanAt(values: readonly number[], points: readonly number[]): number {
  return points.length > 0 ? points.reduce((sum, k) => sum + values[k]!, 0) / points.length : 0;
}

/** Cooling seen for less than this share of the time constant tells none of its own. */
const COOLING_SHARE = 0.6;
const MIN_COOLING_POINTS = 20;
/** Of the slow time constant, after which a quick node has given its heat away. */
const QUICK_GONE = 0.3;
/** A cooling that differs by more than this from the whole is another cooling. */
const COOLS_OTHERWISE = 0.25;
/** Time constant of the readings after the last load alone, s; undefined where they are too few. */
function coolingAlone({ readings, model }: HeatFit): number | undefined {
  const points = readings.loads.length > 0 ? loadedPoints(readings.loads.at(-1)!.values) : [];
  const { timeS, riseK, airWeight } = readings;
  // Beside a quick node the first part of the cooling is that one's.
  const afterS = model.timeConstantsS.length > 1 ? QUICK_GONE * slowestOf(model) : 0;
  const lastS = timeS[points.at(-1) ?? 0]!;
  const from = timeS.findIndex((t, k) => k >= (points.at(-1) ?? -1) + 2 && t >= lastS + afterS);
  if (from < 0) return undefined;
  if (points.length === 0 || timeS.length - from < MIN_COOLING_POINTS) return undefined;
  if (timeS.at(-1)! - timeS[from]! < COOLING_SHARE * slowestOf(model)) return undefined;
  const alone = fitHeat({ timeS: timeS.slice(from), riseK: riseK.slice(from), loads: [], airWeight }, 1);
  return alone && slowestOf(alone.model);
}
