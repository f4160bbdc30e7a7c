import { openCircuitVoltage } from '@ebrix/core/battery';
import { seededRandom, standardNormal } from '@ebrix/core/numeric';
import { airDensityKgPerM3 } from '@ebrix/core/physics';
import { simulateRide, type MotorModel, type PackModel } from '@ebrix/core/ride-model';
import { notebookInputSchema, type NotebookInput } from '@ebrix/contract';
import { rideModelOf } from './demo-ride.js';
import { COURSES } from './scenario.js';

/**
 * A tester without a logger: one page of Ottoline Vask's notebook about the two conversions of milk bike 2, a worn front hub and
 * the hub that came after it. Trip, bars, volts at rest and the church clock are all there is.
 */
export const NOTEBOOK_QUESTION = 'Old front hub or Corvane on milk bike 2, by the notebook?';

interface Conversion {
  readonly written: string;
  readonly motorKind: 'front-hub' | 'rear-hub-geared';
  readonly motor: MotorModel;
  readonly levelShare: number;
  readonly pack: PackModel;
  readonly bars: number;
}
const PACK: PackModel = { chemistry: 'li-ion-nmc', seriesCells: 12, capacityAh: 9.8, resistanceOhm: 0.19, cutoffV: 36 };
export const CONVERSIONS: readonly Conversion[] = [
  {
    written: 'Old front hub, milk bike 2',
    motorKind: 'front-hub',
    motor: {
      kind: 'hub',
      torqueConstant: 1.5,
      windingOhmAt25C: 0.6,
      gearRatio: 1,
      ironLossNm: 2.8,
      heatCapacityJPerK: 3000,
      thermalResistanceKPerW: 0.45,
      hasFreewheel: false,
    },
    levelShare: 0.55,
    pack: PACK,
    bars: 5,
  },
  {
    written: 'Corvane R2, milk bike 2',
    motorKind: 'rear-hub-geared',
    motor: {
      kind: 'hub',
      torqueConstant: 0.289,
      windingOhmAt25C: 0.26,
      gearRatio: 5.1,
      ironLossNm: 0.1,
      heatCapacityJPerK: 1300,
      thermalResistanceKPerW: 0.6,
      hasFreewheel: true,
    },
    levelShare: 0.5,
    pack: { ...PACK, resistanceOhm: 0.15 },
    bars: 5,
  },
];

/** Air temperature, °C, and wind, m/s, as remembered. */
const DAYS: readonly (readonly [day: string, airC: number, windMps: number])[] = [
  ['2026-03-03', 7, 1.5],
  ['2026-03-05', 9, 2.2],
  ['2026-03-10', 8, 1.1],
  ['2026-03-12', 10, 1.9],
];
/** Four times the level round, so that a gauge has something to show. */
const LAPS = 4;
const NOTEBOOK_SEED = 6100;
const step = (value: number, by: number): number => Number((Math.round(value / by) * by).toFixed(3));

/** The page as it would be typed in: readings of the ride model, each with the step of its source. */
export function notebookPage(): NotebookInput {
  const random = seededRandom(NOTEBOOK_SEED);
  const about = (mean: number, spread: number): number => mean + spread * standardNormal(random);
  const rides = DAYS.flatMap(([date, airTemperatureC, windMps], day) =>
    // The order turns round from day to day.
    (day % 2 === 0 ? CONVERSIONS : [...CONVERSIONS].reverse()).map(({ written, motor, levelShare, pack, bars }) => {
      const base = rideModelOf({ setup: 'corvane', course: 'level', outing: 'o1' }, about);
      const model = { ...base, motor, pack, controller: { ...base.controller, levelShare, phaseCurrentLimitA: 20 } };
      const conditions = {
        airDensity: airDensityKgPerM3(airTemperatureC, 101_300, 0.7),
        airTemperatureC,
        windMps,
        startStateOfCharge: 1,
        startMotorC: airTemperatureC,
      };
      const { trace } = simulateRide(model, COURSES.level.ride, conditions, { stepS: 0.05, laps: LAPS });
      const left = trace.stateOfCharge.at(-1)!;
      const restV = (charge: number): number =>
        step(pack.seriesCells * openCircuitVoltage(pack.chemistry, charge) + about(0, 0.03), 0.1);
      return {
        date,
        setup: written,
        course: COURSES.level.input.name,
        riding: { way: 'steady' as const, level: '3' },
        gauge: { start: bars, end: Math.min(bars, Math.ceil(bars * left)), bars },
        airTemperatureC,
        readings: {
          tripDistanceKm: step((LAPS * COURSES.level.input.lengthM) / 1000 + about(0, 0.05), 0.1),
          tripStepKm: 0.1,
          restVoltageStartV: restV(1),
          restVoltageEndV: restV(left),
          voltageStepV: 0.1,
          durationS: step(trace.timeS.at(-1)!, 60),
          durationStepS: 60,
        },
      };
    }),
  );
  const setups = CONVERSIONS.map(({ written, motorKind, bars }) => ({
    written,
    sketch: { name: written, motorKind, gaugeBars: bars, packVoltageV: 44, packCapacityAh: 10 },
  }));
  return notebookInputSchema.parse({ setups, rides });
}
