import { airDensityKgPerM3 } from '../../physics/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import type { RideModel } from '../parameters.js';
import type { RideTrace } from '../ride-trace.js';
import { simulateRide } from '../simulate-ride.js';
import { indexAt, meanOf, integral } from './read-trace.js';
import { PEDALS, conditionsOf, straight, contextOf } from './setting.js';
import type { Ridden, TestDay } from './test-ride.js';

const CLIMB_M = 1000;

export function rideClimb(model: RideModel, day: TestDay): Ridden {
  const climb = day.climb ?? { course: straight(CLIMB_M, 0.06), startM: 50, finishM: CLIMB_M - 50 };
  const { startM, finishM } = climb;
  const { trace } = simulateRide(model, climb.course, conditionsOf(day, 0), {
    stepS: 0.02,
    recordHz: day.recordHz,
    startSpeedMps: 4,
    timeLimitS: 900,
    script: [{ ...PEDALS, fromS: 0, level: 4, levelShare: 0.8, riderW: model.rider.powerW }],
  });
  const { timeS, distanceM, speedMps, altitudeM } = trace;
  const [from, to] = [indexAt(distanceM, startM), indexAt(distanceM, finishM)];
  const crossing = (metres: number): number => {
    const k = indexAt(distanceM, metres);
    return (
      timeS[k - 1]! + ((metres - distanceM[k - 1]!) / (distanceM[k]! - distanceM[k - 1]!)) * (timeS[k]! - timeS[k - 1]!)
    );
  };
  const seconds = crossing(finishM) - crossing(startM);
  const gain = altitudeM[to]! - altitudeM[from]!;
  const electricalJ = integral(timeS, (k) => trace.voltageV[k]! * trace.currentA[k]!, from, to);
  const massKg = model.rider.massKg + model.bike.massKg;
  const density = airDensityKgPerM3(day.airTemperatureC);
  const usefulJ =
    massKg * STANDARD_GRAVITY_MPS2 * (gain + model.bike.rollingResistanceCoefficient * (finishM - startM)) +
    integral(timeS, (k) => 0.5 * density * model.bike.dragAreaM2 * speedMps[k]! ** 3, from, to) +
    (massKg * model.bike.rotatingMassFactor * (speedMps[to]! ** 2 - speedMps[from]! ** 2)) / 2 -
    integral(timeS, (k) => trace.riderW[k]!, from, to);
  let minSpeed = Infinity;
  const window = Math.round(3 / (timeS[1]! - timeS[0]!));
  for (let k = from; k + window <= to; k++) minSpeed = Math.min(minSpeed, (distanceM[k + window]! - distanceM[k]!) / 3);
  return {
    trace,
    context: {
      ...contextOf(model, day, 0),
      course: { lengthM: climb.course.lengthM, startM, finishM, isWhole: false, isLoop: false },
    },
    truth: {
      climbTime: seconds,
      meanSpeed: (3.6 * (finishM - startM)) / seconds,
      minSpeed: 3.6 * minSpeed,
      gain,
      meanGrade: (100 * gain) / (finishM - startM),
      ...steepest(trace, from, to),
      verticalSpeed: (3600 * gain) / seconds,
      energyOut: electricalJ / 3600,
      energyPer100m: (100 * electricalJ) / 3600 / gain,
      meanPower: electricalJ / seconds,
      driveEfficiency: usefulJ / electricalJ,
      motorTemperatureRise: trace.motorC[to]! - trace.motorC[from]!,
      meanRiderPower: meanOf(trace.riderW.subarray(from, to)),
    },
  };
}

/** Of a climb that is long enough for it: the greatest rise over 50 m. */
function steepest({ distanceM, altitudeM }: RideTrace, from: number, to: number): { maxGrade?: number } {
  let greatest = -Infinity;
  let back = from;
  for (let k = from; k <= to; k++) {
    while (distanceM[k]! - distanceM[back + 1]! >= 50) back++;
    const way = distanceM[k]! - distanceM[back]!;
    if (way >= 50) greatest = Math.max(greatest, (100 * (altitudeM[k]! - altitudeM[back]!)) / way);
  }
  return Number.isFinite(greatest) ? { maxGrade: greatest } : {};
}
