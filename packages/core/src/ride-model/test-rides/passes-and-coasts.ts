import type { RideModel } from '../parameters.js';
import type { RideTrace } from '../ride-trace.js';
import { simulateRide } from '../simulate-ride.js';
import { joinTraces } from '../traces.js';
import { meanOf, between } from './read-trace.js';
import { FULL, PEDALS, ROLLS, BRAKES, conditionsOf, straight, contextOf } from './setting.js';
import type { Ridden, TestDay } from './test-ride.js';

const PASS_S = 75;

export function ridePasses(model: RideModel, day: TestDay): Ridden {
  const pass = (windMps: number): RideTrace =>
    simulateRide(model, straight(6000, 0), conditionsOf(day, windMps), {
      stepS: 0.02,
      recordHz: day.recordHz,
      timeLimitS: PASS_S + 14,
      script: [
        { ...PEDALS, fromS: 0, level: 5, levelShare: FULL, riderW: model.rider.powerW },
        { ...BRAKES, fromS: PASS_S },
      ],
    }).trace;
  const topOf = (trace: RideTrace): number => 3.6 * meanOf(between(trace, 'speedMps', PASS_S - 5, PASS_S));
  const [there, back] = [pass(day.windMps), pass(-day.windMps)];
  return {
    trace: joinTraces([there, back, there, back]),
    context: { ...contextOf(model, day, day.windMps), directions: [1, -1, 1, -1] },
    truth: {
      twoWayTopSpeed: (topOf(there) + topOf(back)) / 2,
      stillAirTopSpeed: topOf(pass(0)),
    },
  };
}

export function rideCoasts(model: RideModel, day: TestDay): Ridden {
  const free: RideModel = { ...model, motor: { ...model.motor, hasFreewheel: true } };
  const coast = (direction: 1 | -1): RideTrace =>
    simulateRide(free, straight(6000, direction * day.slope), conditionsOf(day, direction * day.windMps), {
      stepS: 0.02,
      recordHz: day.recordHz,
      startSpeedMps: 9.5,
      timeLimitS: 62,
      script: [
        { ...PEDALS, fromS: 0, level: 5, levelShare: FULL, riderW: 150 },
        { ...ROLLS, fromS: 4 },
        { ...BRAKES, fromS: 52 },
      ],
    }).trace;
  const [there, back] = [coast(1), coast(-1)];
  return {
    trace: joinTraces([there, back, there, back]),
    context: { ...contextOf(model, day, 0), directions: [1, -1, 1, -1] },
    truth: {
      cda: model.bike.dragAreaM2,
      crr: model.bike.rollingResistanceCoefficient,
      slope: day.slope,
      wind: day.windMps,
    },
  };
}
