import type { RideCourse, RideModel, ScriptStep } from '../parameters.js';
import { simulateRide } from '../simulate-ride.js';
import { sliceTrace } from '../traces.js';
import { indexAt, meanOf, integral, between } from './read-trace.js';
import { PEDALS, conditionsOf, straight, contextOf } from './setting.js';
import type { Ridden, TestDay } from './test-ride.js';

export function rideRange(model: RideModel, day: TestDay): Ridden {
  const course: RideCourse = {
    lengthM: 3000,
    profile: Array.from({ length: 31 }, (_, k) => ({
      distanceM: 100 * k,
      altitudeM: 20 + 12 * Math.sin((2 * Math.PI * k) / 30),
    })),
    stops: [
      { distanceM: 900, dwellS: 12 },
      { distanceM: 2100, dwellS: 8 },
    ],
  };
  const ride = simulateRide(
    model,
    course,
    { ...conditionsOf(day, day.windMps), isWindAlong: false },
    { stepS: 0.02, recordHz: day.recordHz },
  );
  // To a whole second, so that a slow logger sees the end as well.
  const seconds = Math.floor(ride.trace.timeS.at(-1)!);
  const trace = sliceTrace(ride.trace, 0, indexAt(ride.trace.timeS, seconds));
  const { timeS, speedMps, voltageV, currentA } = trace;
  const km = (trace.distanceM.at(-1)! - trace.distanceM[0]!) / 1000;
  const watts = (k: number): number => voltageV[k]! * currentA[k]!;
  const netWh = integral(timeS, watts) / 3600;
  const regeneratedWh = integral(timeS, (k) => Math.max(0, -watts(k))) / 3600;
  const movingS = integral(timeS, (k) => (speedMps[k]! > 0.5 ? 1 : 0));
  return {
    trace,
    context: contextOf(model, day, 0),
    truth: {
      distance: km,
      movingTime: movingS,
      meanMovingSpeed: (3600 * km) / movingS,
      energyOut: netWh + regeneratedWh,
      energyRegenerated: regeneratedWh,
      netConsumption: netWh / km,
      grossConsumption: (netWh + regeneratedWh) / km,
      chargeUsed: integral(trace.timeS, (k) => trace.currentA[k]!) / 3600,
    },
  };
}

const LEVEL_S = 110;
const LEVEL_SHARES = [0.18, 0.32, 0.5, 0.75] as const;

export function rideLevels(model: RideModel, day: TestDay): Ridden {
  const script = LEVEL_SHARES.map((levelShare, k): ScriptStep => ({
    ...PEDALS,
    fromS: k * LEVEL_S,
    level: k + 1,
    levelShare,
    riderW: model.rider.powerW,
  }));
  const { trace } = simulateRide(model, straight(9000, 0), conditionsOf(day, day.windMps), {
    stepS: 0.02,
    recordHz: day.recordHz,
    script,
    timeLimitS: LEVEL_SHARES.length * LEVEL_S,
  });
  const truth: Record<string, number> = {};
  LEVEL_SHARES.forEach((_, k) => {
    const [fromS, toS] = [(k + 1) * LEVEL_S - 30, (k + 1) * LEVEL_S - 1];
    const [from, to] = [indexAt(trace.timeS, fromS), indexAt(trace.timeS, toS)];
    const wh = integral(trace.timeS, (j) => trace.voltageV[j]! * trace.currentA[j]!, from, to) / 3600;
    const km = (trace.distanceM[to]! - trace.distanceM[from]!) / 1000;
    truth[`steadySpeedLevel${k + 1}`] = 3.6 * meanOf(between(trace, 'speedMps', fromS, toS));
    truth[`meanPowerLevel${k + 1}`] = (3600 * wh) / (trace.timeS[to]! - trace.timeS[from]!);
    truth[`consumptionLevel${k + 1}`] = wh / km;
  });
  return { trace, truth, context: contextOf(model, day, day.windMps) };
}
