import type { CleanLog } from '../../logs/index.js';
import { sliceByTime } from '../cut-log.js';
import type { Figure, Warn } from '../figure.js';
import type { Chart } from '../findings.js';
import { electricalPower } from '../range/ride-integrals.js';
import type { TestContext } from '../test-context.js';
import { meanOfSpan } from '../uneven-scatter.js';
import { chooseHeatFit } from './choose-heat-fit.js';
import { findCutBack } from './cut-back.js';
import { slowestOf } from './heat-behaviour.js';
import { heatFigures } from './heat-figures.js';
import { scatterOf } from './heat-scatter.js';
import { heatCharts } from './heat-charts.js';
import { reduceToPoints } from './heat-points.js';

const MIN_SAMPLES = 60;
const MIN_RISE_K = 4;

export interface HeatingResult {
  readonly figures: readonly Figure[];
  readonly charts: readonly Chart[];
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
 * A log that only cools tells the time constant and the half-life without any load.
 * Needs motor temperature over time with a rise of 4 K or more, and the air's temperature.
 */
export function analyseHeating(whole: CleanLog, context: TestContext, warn: Warn): HeatingResult {
  const set = context.spans?.find(({ kind }) => kind === 'fit');
  const nothing: HeatingResult = { figures: [], charts: [], fit: null };
  const log = set ? sliceByTime(whole, set.fromS, set.toS) : whole;
  if (!log) {
    warn('span-empty', 'The chosen part holds fewer than five samples: no curve can be fitted to it.');
    return nothing;
  }
  const { motorTemperature, current } = log.channels;
  if (!motorTemperature || !log.hasClock) {
    warn('no-motor-temperature', 'Heating needs the motor temperature over time; this log has none.');
    return nothing;
  }
  const airC = context.ambientC ?? meanOfSpan(log.channels.airTemperature ?? [])?.mean ?? context.airTemperatureC;
  if (airC === undefined) {
    warn('no-air-temperature', 'Heating needs the air temperature: add it to the outing.');
    return nothing;
  }
  const power = electricalPower(log.channels)?.powerW;
  const points = reduceToPoints(log, motorTemperature, current, power, log.channels.speed);
  if (points.timeS.length < MIN_SAMPLES) {
    warn('too-few-samples', `Heating needs ${MIN_SAMPLES} readings of the motor temperature or more.`);
    return nothing;
  }
  const rise = points.riseK(airC);
  if (Math.max(...rise) - Math.min(...rise) < MIN_RISE_K) {
    warn(
      'too-little-rise',
      `The motor's temperature changes by less than ${MIN_RISE_K} K: no time constant can be worked out.`,
    );
    return nothing;
  }
  const { timeS, loads, watts, pace } = points;
  const onlyCools = coolsFromTheStart(rise);
  if (loads.length === 0 && !onlyCools) {
    warn('no-load', 'The log has neither current nor power: the loss heating the motor is unknown.');
    return nothing;
  }
  const fit = chooseHeatFit({ timeS, riseK: rise, loads, ...(pace.length > 0 && { pace }) }, onlyCools);
  const scatter = fit && scatterOf(fit);
  if (!fit || !scatter || !(scatter.errorOf(slowestOf) < slowestOf(fit.model))) {
    warn(
      'no-time-constant',
      'The readings do not pin down a heating and cooling curve: log a steady load, then the cooling until half the rise is gone.',
    );
    return nothing;
  }
  if (fit.readings.loads.length === 0)
    warn('only-cooling', 'The log shows the cooling alone: no rise at a load, no headroom and no time to the limit.');
  const span = { fromS: log.timeS[0]!, toS: log.timeS.at(-1)! };
  const limitC = context.temperatureLimitC;
  return {
    figures: [...heatFigures({ fit, scatter, airC, watts, limitC, span }, warn), ...findCutBack(log, warn)],
    charts: heatCharts(
      timeS,
      rise.map((value) => value + airC),
      fit.residuals,
      { airC, limitC },
    ),
    fit: span,
  };
}

/** The hottest reading lies in this first part of a log that only cools. */
const HOTTEST_WITHIN = 0.1;

function coolsFromTheStart(rise: readonly number[]): boolean {
  const hottest = rise.reduce((most, value, k) => (value > rise[most]! ? k : most), 0);
  return hottest <= HOTTEST_WITHIN * rise.length;
}
