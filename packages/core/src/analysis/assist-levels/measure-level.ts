import { say } from '../../units/index.js';
import type { CleanLog } from '../../logs/index.js';
import { currentGain, systematic, voltageGain, wheelCircumference } from '../contributions.js';
import {
  derivationQuantity as qty,
  derivationNumber as num,
  fromLimit,
  makeFigure,
  type Contribution,
  type Figure,
} from '../figure.js';
import type { InstrumentErrors } from '../instrument.js';
import { firstAtOrAfter } from '../../numeric/index.js';
import { meanOfSpan } from '../uneven-scatter.js';
import type { TestContext } from '../test-context.js';
import type { LevelWindow } from './find-levels.js';
import { gradeEffect } from './level-grade.js';

export interface MeasuredLevel {
  readonly level: number;
  readonly steadySpeed: Figure;
  readonly consumption: Figure | null;
  readonly meanPower: Figure | null;
  readonly fromS: number;
  readonly toS: number;
  /** Rise over distance, where the road was not level; else 0. */
  readonly grade: number;
}

const WINDOW_SCATTER = 'scatter within the window';
const STILL_SETTLING = 'still settling';

/**
 * Steady speed (km/h) and, with electrical power, mean power (W) and consumption (Wh/km) of one window. Undefined where the
 * bike did not move in it. Consumption is of means, not of sums: what a gap left out is missing in both alike.
 */
export function measureLevel(
  log: CleanLog,
  speed: Float64Array,
  powerW: Float64Array | undefined,
  { level, from, to }: LevelWindow,
  instrument: InstrumentErrors,
  context: TestContext = {},
): MeasuredLevel | undefined {
  const { timeS } = log;
  const span = { fromS: timeS[from]!, toS: timeS[to]! };
  const mean = meanOfSpan(speed.subarray(from, to + 1));
  if (!mean || !(mean.mean > 0)) return undefined;
  const kmh = mean.mean * 3.6;
  const speedSettling = settling(timeS, speed, from, to);
  const road = gradeEffect(log, { from, to }, mean.mean, context);
  const grade = (limit: number): Contribution[] =>
    road && limit > 0
      ? [{ source: 'grade of the road', standardUncertainty: fromLimit(limit), isSystematic: true }]
      : [];
  const steadySpeed = makeFigure({
    key: `steadySpeedLevel${level}`,
    label: `Steady speed, level ${level}`,
    value: kmh,
    unit: 'km/h',
    n: mean.count,
    contributions: [
      { source: WINDOW_SCATTER, standardUncertainty: mean.standardError * 3.6 },
      { source: STILL_SETTLING, standardUncertainty: speedSettling * 3.6 },
      wheelCircumference(instrument, kmh),
      ...grade(3.6 * road.speedMps),
    ],
    formula: 'mean speed of the steady window',
    substituted: say`${qty(kmh, 'km/h')} over ${num(span.toS - span.fromS)} s`,
    inputs: ['speed', 'assist level'],
    ...span,
  });
  const watts = powerW && meanOfSpan(powerW.subarray(from, to + 1));
  if (!powerW || !watts) return { level, ...span, steadySpeed, meanPower: null, consumption: null, grade: road.grade };
  const powerSettling = settling(timeS, powerW, from, to);
  const volts = meanVoltage(log, from, to);
  const gains = (value: number): Contribution[] => [
    voltageGain(instrument, value),
    currentGain(instrument, value),
    systematic(
      'current offset',
      watts.mean === 0 ? 0 : Math.abs((fromLimit(instrument.currentOffsetA) * volts * value) / watts.mean),
    ),
  ];
  const meanPower = makeFigure({
    key: `meanPowerLevel${level}`,
    label: `Mean power, level ${level}`,
    value: watts.mean,
    unit: 'W',
    n: watts.count,
    contributions: [
      { source: WINDOW_SCATTER, standardUncertainty: watts.standardError },
      { source: STILL_SETTLING, standardUncertainty: powerSettling },
      ...gains(watts.mean),
      ...grade(road.powerW),
    ],
    formula: 'mean of V·I in the steady window',
    substituted: `${num(watts.mean)} W`,
    inputs: ['voltage', 'current'],
    ...span,
  });
  const perKm = watts.mean / 3.6 / mean.mean;
  const consumption = makeFigure({
    key: `consumptionLevel${level}`,
    label: `Consumption, level ${level}`,
    value: perKm,
    unit: 'Wh/km',
    n: watts.count,
    contributions: [
      {
        source: WINDOW_SCATTER,
        standardUncertainty: Math.hypot(watts.standardError / 3.6, perKm * mean.standardError) / mean.mean,
      },
      {
        source: STILL_SETTLING,
        standardUncertainty: Math.abs(powerSettling / 3.6 - perKm * speedSettling) / mean.mean,
      },
      ...gains(perKm),
      wheelCircumference(instrument, perKm),
      ...grade(road.powerW / 3.6 / mean.mean),
    ],
    formula: 'mean power ÷ mean speed of the steady window',
    substituted: say`${num(watts.mean)} W ÷ ${qty(kmh, 'km/h')} = ${qty(perKm, 'Wh/km')}`,
    inputs: ['voltage', 'current', 'speed'],
    ...span,
  });
  return { level, ...span, steadySpeed, meanPower, consumption, grade: road.grade };
}

/** What a value may still change by: the last third of the window against all of it. */
function settling(timeS: Float64Array, values: Float64Array, from: number, to: number): number {
  const last = firstAtOrAfter(timeS, timeS[to]! - (timeS[to]! - timeS[from]!) / 3);
  const [all, end] = [meanOfSpan(values.subarray(from, to + 1)), meanOfSpan(values.subarray(last, to + 1))];
  return all && end ? Math.abs(end.mean - all.mean) : 0;
}

function meanVoltage(log: CleanLog, a: number, b: number): number {
  const { voltage } = log.channels;
  return voltage ? (meanOfSpan(voltage.subarray(a, b + 1))?.mean ?? 0) : 0;
}
