import {
  simulateRide,
  slowTimeConstantS,
  type RideConditions,
  type RideCourse,
  type RideModel,
} from '../ride-model/index.js';

export interface RideEstimate {
  readonly durationS: number;
  /** Out of the battery, net of what came back. */
  readonly energyWh: number;
  /** Standard uncertainty. */
  readonly energyUncertaintyWh: number;
  readonly endedBy: 'finish' | 'cut-off' | 'time';
  readonly hottestC: number;
  /** Until the motor is within `COOL_ENOUGH_K` of the air again. */
  readonly coolDownS: number;
}

/** A model that was not calibrated on own rides is taken to be within a quarter either way. */
const MODEL_LIMIT = 0.25;
const COOL_ENOUGH_K = 5;
const STEP_S = 0.05;
const LONGEST_RIDE_S = 5 * 3600;

/**
 * What one ride is expected to take, by the ride model: time, energy, warmth and the time to cool again.
 * Method: `simulateRide`; uncertainty a stated ±25 % (rectangular) of an uncalibrated model; cooling with the model's
 *         own time constant, t = RC · ln(rise / 5 K).
 */
export function estimateRide(model: RideModel, course: RideCourse, conditions: RideConditions, laps = 1): RideEstimate {
  const { trace, endedBy, terminalEnergyOutJ, terminalEnergyRegeneratedJ } = simulateRide(model, course, conditions, {
    stepS: STEP_S,
    recordHz: 1,
    laps,
    timeLimitS: LONGEST_RIDE_S,
  });
  const energyWh = (terminalEnergyOutJ - terminalEnergyRegeneratedJ) / 3600;
  const hottestC = trace.motorC.reduce((most, value) => Math.max(most, value), -Infinity);
  const rise = (trace.motorC.at(-1) ?? conditions.airTemperatureC) - conditions.airTemperatureC;
  const timeConstantS = slowTimeConstantS(model.motor);
  return {
    durationS: trace.timeS.at(-1) ?? 0,
    energyWh,
    energyUncertaintyWh: (MODEL_LIMIT * Math.abs(energyWh)) / Math.sqrt(3),
    endedBy,
    hottestC,
    coolDownS: rise > COOL_ENOUGH_K ? timeConstantS * Math.log(rise / COOL_ENOUGH_K) : 0,
  };
}

/** Usual pace of an ordinary bike on mixed ground. */
const UNASSISTED_MPS = 15 / 3.6;

/** A ride without a motor: time at 15 km/h, nothing out of a battery, nothing to cool. Units: m, °C. */
export function estimateUnassisted(distanceM: number, airTemperatureC: number): RideEstimate {
  return {
    durationS: distanceM / UNASSISTED_MPS,
    energyWh: 0,
    energyUncertaintyWh: 0,
    endedBy: 'finish',
    hottestC: airTemperatureC,
    coolDownS: 0,
  };
}
