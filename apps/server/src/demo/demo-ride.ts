import { seededRandom, standardNormal, type Random } from '@ebrix/core/numeric';
import { airDensityKgPerM3 } from '@ebrix/core/physics';
import { rideTest, simulateRide, thinTrace, writeRideCsv, type RideModel } from '@ebrix/core/ride-model';
import { COURSES, OUTINGS, SETUPS, type DemoCourse, type PlannedRide } from './scenario.js';

export interface DemoRide {
  readonly plan: PlannedRide;
  readonly seed: number;
}

const RIDER_MASS_KG = 78;
/** Step of the simulation, s: fine enough for 1 Hz logs. */
const STEP_S = 0.02;

/** Bike, kit and rider of a planned ride; `about` draws what differs from ride to ride. */
export function rideModelOf(plan: PlannedRide, about: (mean: number, spread: number) => number): RideModel {
  const setup = SETUPS[plan.setup];
  return {
    pack: setup.packModel,
    motor: setup.motor,
    controller: {
      idleW: 3,
      cutBackFromC: 100,
      cutBackToC: 120,
      speedLimitMps: 25 / 3.6,
      taperMps: 0.7,
      responseDelayS: 0.5,
      rampS: 0.6,
      regenerationCurrentA: 0,
      ...setup.controller,
      ...(plan.levelShare !== undefined && { levelShare: plan.levelShare }),
    },
    // Nobody pedals twice alike: this is most of the scatter between runs.
    rider: {
      powerW: (plan.riding?.riderW ?? 85) + about(0, plan.riding?.riderW === 0 ? 0 : 3),
      massKg: RIDER_MASS_KG + about(18, 1),
      targetSpeedMps: about(23.5, 0.2) / 3.6,
      brakingMps2: 1.1,
    },
    bike: {
      massKg: setup.bikeMassKg,
      dragAreaM2: about(0.62, 0.008),
      rollingResistanceCoefficient: setup.rolling * about(1, 0.012),
      wheelCircumferenceM: 2.1,
      rotatingMassFactor: 1.02,
      gears: [0.9, 1.15, 1.4, 1.7, 2.1, 2.6, 3.2],
      drivetrainEfficiency: 0.94,
    },
  };
}

/** The log a simple logger would have written of a planned ride; all chance comes from the seed. */
export function rideDemoLog({ plan, seed }: DemoRide): string {
  const random = seededRandom(seed);
  const about = (mean: number, spread: number): number => mean + spread * standardNormal(random);
  const { airTemperatureC, windMps } = OUTINGS[plan.outing];
  if (plan.test) return testLog(plan, plan.test, about, random);
  const { trace } = simulateRide(
    rideModelOf(plan, about),
    COURSES[plan.course].ride,
    {
      airDensity: airDensityKgPerM3(airTemperatureC!, 101_300, 0.7),
      airTemperatureC: airTemperatureC!,
      windMps: windMps!,
      startStateOfCharge: plan.startCharge ?? 1,
      startMotorC: airTemperatureC!,
    },
    { stepS: STEP_S, laps: plan.laps ?? 1 },
  );
  const last = trace.timeS.at(-1)!;
  return writeRideCsv(
    trace,
    {
      currentGain: 1.003,
      voltageGain: 0.999,
      distanceGain: 1.001,
      dropOuts: plan.hasGap ? [{ fromS: Math.round(last * 0.42), lengthS: 25 }] : [],
      spikeCount: plan.hasSpikes ? 5 : 0,
      decimalComma: plan.course === 'hill',
    },
    random,
  );
}

const TEST_HZ = 50;
const SLOW_TEST_HZ = 10;

/** The log of a test other than range, ten samples a second. */
function testLog(
  plan: PlannedRide,
  test: NonNullable<PlannedRide['test']>,
  about: (mean: number, spread: number) => number,
  random: Random,
): string {
  const { airTemperatureC, windMps } = OUTINGS[plan.outing];
  const model = rideModelOf(plan, about);
  const { input, ride, gates = [] }: DemoCourse = COURSES[plan.course];
  const gateAt = (kind: 'finish' | 'start', otherwise: number): number =>
    gates.find((gate) => gate.kind === kind)?.distanceM ?? otherwise;
  // Slow tests need no finer record: the trace is what is thinned.
  const recordHz = test === 'heating' || test === 'battery' ? SLOW_TEST_HZ : TEST_HZ;
  const { trace } = rideTest(
    test,
    {
      ...model,
      controller: { ...model.controller, runOnS: 0.45, brakeCutoffS: 0.25 },
      rider: { ...model.rider, targetSpeedMps: 20 },
    },
    {
      airTemperatureC: airTemperatureC!,
      windMps: windMps!,
      slope: 0,
      recordHz,
      ...(test === 'hill-climb' && {
        climb: { course: ride, startM: gateAt('start', 0), finishM: gateAt('finish', input.lengthM ?? ride.lengthM) },
      }),
    },
  );
  return writeRideCsv(
    thinTrace(trace, recordHz / SLOW_TEST_HZ),
    { currentGain: 1.003, voltageGain: 0.999, distanceGain: 1.001, dropOuts: [], spikeCount: 0, hasMore: true },
    random,
  );
}
