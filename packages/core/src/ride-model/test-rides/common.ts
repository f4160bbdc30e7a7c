import { airDensityKgPerM3 } from '../../physics/index.js';
import type { TestContext, TestKind } from '../../analysis/index.js';
import type { RideConditions, RideCourse, RideModel } from '../parameters.js';
import type { RideTrace } from '../ride-trace.js';
import { START_ALTITUDE_M } from '../traces.js';

/** A simulated test ride with what is true of it, by the keys of its figures and in their units. */
export interface TestRide {
  readonly kind: TestKind;
  readonly trace: RideTrace;
  readonly truth: Readonly<Record<string, number>>;
  /** What a tester would know about it. */
  readonly context: TestContext;
}
export interface TestDay {
  readonly airTemperatureC: number;
  /** Head wind on the way there, m/s. */
  readonly windMps: number;
  /** Rise over way on the way there. */
  readonly slope: number;
  readonly recordHz: number;
  /** Where the hill is climbed; 1 000 m at 6 % where not given. */
  readonly climb?: { readonly course: RideCourse; readonly startM: number; readonly finishM: number };
}

/** What a ride of a kind gives; the kind is added by its caller. */
export type Ridden = Omit<TestRide, 'kind'>;

export const FULL = 1;
export const PEDALS = { pedals: true, brakes: false } as const;
// What the level asks for stands, whether it is asked or not: help may run on.
export const ROLLS = { pedals: false, brakes: false, level: 3, levelShare: 0.7, riderW: 0 } as const;
export const BRAKES = { pedals: false, brakes: true, level: 3, levelShare: 0.7, riderW: 0 } as const;

export function conditionsOf(
  { airTemperatureC }: TestDay,
  windMps: number,
  more: Partial<RideConditions> = {},
): RideConditions {
  return {
    airTemperatureC,
    airDensity: airDensityKgPerM3(airTemperatureC),
    windMps,
    isWindAlong: true,
    startStateOfCharge: 0.98,
    startMotorC: airTemperatureC,
    ...more,
  };
}

export function straight(lengthM: number, slope: number): RideCourse {
  return {
    lengthM,
    profile: [
      { distanceM: 0, altitudeM: START_ALTITUDE_M },
      { distanceM: lengthM, altitudeM: START_ALTITUDE_M + slope * lengthM },
    ],
    stops: [],
  };
}

export function contextOf({ rider, bike }: RideModel, day: TestDay, windMps: number): TestContext {
  return {
    airTemperatureC: day.airTemperatureC,
    airDensity: airDensityKgPerM3(day.airTemperatureC),
    totalMassKg: rider.massKg + bike.massKg,
    cdaM2: bike.dragAreaM2,
    crr: bike.rollingResistanceCoefficient,
    rotatingMassFactor: bike.rotatingMassFactor,
    windMps,
  };
}

export function indexAt(column: Float64Array, value: number): number {
  const k = column.findIndex((one) => one >= value);
  return k < 0 ? column.length - 1 : k;
}
export function meanOf(values: Float64Array): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}
/** ∫ f dt by trapezoid over samples [from, to]. */
export function integral(timeS: Float64Array, f: (k: number) => number, from = 0, to = timeS.length - 1): number {
  let sum = 0;
  for (let k = from + 1; k <= to; k++) sum += ((f(k) + f(k - 1)) / 2) * (timeS[k]! - timeS[k - 1]!);
  return sum;
}
export function between(trace: RideTrace, column: keyof RideTrace, fromS: number, toS: number): Float64Array {
  return trace[column].subarray(indexAt(trace.timeS, fromS), indexAt(trace.timeS, toS));
}

/** Where in a second the k-th thing happens: each elsewhere, so that no logger's beat is met again and again. */
export const offBeat = (k: number): number => (0.37 + 0.618034 * k) % 1;
