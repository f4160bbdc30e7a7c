import { settledHeatK, slowTimeConstantS, warmMotor, type MotorHeat } from '../motor-heat.js';
import type { MotorModel, RideModel } from '../parameters.js';
import { simulateRide } from '../simulate-ride.js';
import { between, meanOf } from './read-trace.js';
import { PEDALS, BRAKES, conditionsOf, straight, contextOf } from './setting.js';
import type { Ridden, TestDay } from './test-ride.js';

const LOADED_S = 900;
const COOLED_S = 1500;

export function rideHeating(model: RideModel, day: TestDay): Ridden {
  const { trace, book } = simulateRide(model, straight(20_000, 0.07), conditionsOf(day, 0), {
    stepS: 0.05,
    recordHz: Math.min(day.recordHz, 20),
    timeLimitS: LOADED_S + COOLED_S,
    script: [
      { ...PEDALS, fromS: 0, level: 4, levelShare: 0.75, riderW: model.rider.powerW },
      { ...BRAKES, fromS: LOADED_S },
    ],
  });
  const tau = slowTimeConstantS(model.motor);
  // The copper's loss with what its warming had added until then taken off again.
  const warmed = meanOf(between(trace, 'motorC', 0, LOADED_S).map((c) => 1 + COPPER_PER_K * (c - REFERENCE_C)));
  const settled = settledHot(
    model.motor,
    { copperW: book.copperLossJ / LOADED_S / warmed, ironW: book.ironLossJ / LOADED_S },
    day.airTemperatureC,
  );
  const settledK = settled.windingK;
  const temperatureLimitC = 90;
  const allowedK = temperatureLimitC - day.airTemperatureC;
  return {
    trace,
    context: { ...contextOf(model, day, 0), ambientC: day.airTemperatureC, temperatureLimitC },
    truth: {
      timeConstant: tau,
      coolingHalfLife: halfLifeOf(model.motor, settled),
      riseAtLoad: settledK,
      headroom: allowedK - settledK,
      ...(!model.motor.winding &&
        settledK > 1.1 * allowedK && {
          timeToLimit: -settled.slownessS * Math.log(1 - allowedK / settledK),
        }),
      peakTemperature: trace.motorC.reduce((most, value) => Math.max(most, value), -Infinity),
    },
  };
}

const REFERENCE_C = 25;
const COPPER_PER_K = 0.00393;

/**
 * Where the same load settles once copper is as warm as it then is, K above the air, and the pace at which one node gets there, s.
 * By repeating: loss at the last temperature, temperature of that loss.
 */
function settledHot(
  motor: MotorModel,
  { copperW, ironW }: { copperW: number; ironW: number },
  airC: number,
): { windingK: number; bodyK: number; slownessS: number } {
  let found = { windingK: 0, bodyK: 0 };
  for (let k = 0; k < 500; k++)
    found = settledHeatK(motor, copperW * (1 + COPPER_PER_K * (airC + found.windingK - REFERENCE_C)), ironW);
  const { heatCapacityJPerK, thermalResistanceKPerW } = motor;
  return { ...found, slownessS: heatCapacityJPerK / (1 / thermalResistanceKPerW - COPPER_PER_K * copperW) };
}

/** How long a settled motor's winding takes to lose half of its rise, s. */
function halfLifeOf(motor: MotorModel, { windingK, bodyK }: { windingK: number; bodyK: number }): number {
  const stepS = 0.1;
  let heat: MotorHeat = { windingC: windingK, bodyC: bodyK };
  let seconds = 0;
  while (heat.windingC > windingK / 2) {
    heat = warmMotor(motor, heat, { copperJ: 0, ironJ: 0 }, 0, stepS);
    seconds += stepS;
  }
  return seconds;
}
