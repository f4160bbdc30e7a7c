import { openCircuitVoltage } from '../../battery/index.js';
import type { RideModel, ScriptStep } from '../parameters.js';
import { simulateRide } from '../simulate-ride.js';
import { indexAt, meanOf, integral, between, offBeat } from './read-trace.js';
import { FULL, PEDALS, ROLLS, BRAKES, conditionsOf, straight, contextOf } from './setting.js';
import type { Ridden, TestDay } from './test-ride.js';

export function rideLoadSteps(model: RideModel, day: TestDay): Ridden {
  const script: ScriptStep[] = [];
  for (let k = 0; k < 12; k++)
    script.push(
      { ...ROLLS, fromS: k === 0 ? 0 : 60 * k + offBeat(2 * k) },
      {
        ...PEDALS,
        fromS: 60 * k + 30 + offBeat(2 * k + 1),
        level: 1 + (k % 4),
        levelShare: 0.25 + 0.2 * (k % 4),
        riderW: 20,
      },
    );
  const { trace } = simulateRide(model, straight(12_000, 0.02), conditionsOf(day, 0), {
    stepS: 0.05,
    recordHz: Math.min(day.recordHz, 20),
    script,
    timeLimitS: 720,
  });
  const { pack } = model;
  return {
    trace,
    context: contextOf(model, day, 0),
    truth: {
      internalResistance: pack.resistanceOhm * (1 + 0.015 * Math.max(0, 20 - day.airTemperatureC)),
      openCircuitVoltage: pack.seriesCells * openCircuitVoltage(pack.chemistry, 0.98),
      energyOut: integral(trace.timeS, (k) => trace.voltageV[k]! * trace.currentA[k]!) / 3600,
      chargeUsed: integral(trace.timeS, (k) => trace.currentA[k]!) / 3600,
    },
  };
}

const THROTTLE_S = 15.037;

/** The wheel alone: its inertia as a mass at the rim, its seals and bearings as rolling. */
export function spinWheel(model: RideModel, day: TestDay): Ridden {
  const wheel: RideModel = {
    ...model,
    motor: { ...model.motor, hasFreewheel: true },
    rider: { ...model.rider, massKg: 0, targetSpeedMps: 60 },
    controller: { ...model.controller, speedLimitMps: 60, runOnS: 0 },
    bike: { ...model.bike, massKg: 2.4, dragAreaM2: 0.01, rollingResistanceCoefficient: 0.05, rotatingMassFactor: 1 },
  };
  const { trace } = simulateRide(wheel, straight(9000, 0), conditionsOf(day, 0), {
    stepS: 0.01,
    recordHz: day.recordHz,
    timeLimitS: THROTTLE_S + 45,
    script: [
      { ...BRAKES, fromS: 0 },
      { ...PEDALS, fromS: 2, level: 5, levelShare: FULL, riderW: 0 },
      { ...ROLLS, fromS: THROTTLE_S },
    ],
  });
  const top = meanOf(between(trace, 'speedMps', THROTTLE_S - 3, THROTTLE_S));
  const after = indexAt(trace.timeS, THROTTLE_S);
  const stands = trace.speedMps.findIndex((v, k) => k > after && v < 0.05 * top);
  return {
    trace,
    context: {},
    truth: {
      noLoadSpeed: 3.6 * top,
      noLoadCurrent: meanOf(between(trace, 'currentA', THROTTLE_S - 3, THROTTLE_S)),
      spinDownTime: trace.timeS[stands]! - THROTTLE_S,
    },
  };
}
