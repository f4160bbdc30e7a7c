import { airDensityKgPerM3 } from '../../physics/index.js';
import type { TestContext } from '../../analysis/index.js';
import type { RideConditions, RideCourse, RideModel } from '../parameters.js';
import { START_ALTITUDE_M } from '../traces.js';
import type { TestDay } from './test-ride.js';

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
