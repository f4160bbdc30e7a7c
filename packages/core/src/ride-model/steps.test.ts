import fc from 'fast-check';
import { STANDARD_GRAVITY_MPS2 } from '../units/index.js';
import { exampleRideModel } from '../testing/example-ride-model.js';
import { makeCourseProfile } from './course-profile.js';
import { HelpRamp, motorDrive, packResistanceOhm, transmissionAt, easingAt } from './drive-step.js';
import { electricStep } from './electric-step.js';
import { forcesAt, headWindAt, moveOneStep } from './motion-step.js';
import { RiderClock, type RiderIntent } from './rider-intent.js';

const { pack, motor, controller, rider, bike } = exampleRideModel;
const RIDING: RiderIntent = {
  order: undefined,
  isStopping: false,
  isStanding: false,
  wantsSpeed: true,
  runsOn: false,
};
const between = (min: number, max: number) => fc.double({ min, max, noNaN: true });

describe('the profile of a course', () => {
  const course = {
    lengthM: 1000,
    stops: [],
    profile: [
      { distanceM: 0, altitudeM: 10 },
      { distanceM: 400, altitudeM: 50 },
      { distanceM: 1000, altitudeM: 20 },
    ],
  };
  it('has the grade of the segment one stands on, forward and back', () => {
    const profile = makeCourseProfile(course);
    expect(profile.grade(900)).toBeCloseTo(-0.05, 12);
    expect(profile.grade(100)).toBeCloseTo(0.1, 12);
    expect(profile.grade(500)).toBeCloseTo(-0.05, 12);
  });
  it('rises by the sine of the slope for each metre ridden along it', () => {
    const profile = makeCourseProfile(course);
    const sine = 0.1 / Math.hypot(1, 0.1);
    expect(profile.altitude(400)).toBeCloseTo(10 + 400 * sine, 9);
    expect(profile.altitude(0)).toBe(10);
  });
  it('rises in a lap by as much as it is higher at the end', () => {
    const profile = makeCourseProfile(course);
    expect(profile.gainPerLapM).toBeCloseTo(profile.altitude(1000) - profile.altitude(0), 9);
  });
  it('is refused where it is one point or ends early', () => {
    expect(() => makeCourseProfile({ ...course, profile: course.profile.slice(0, 1) })).toThrow('profile');
    expect(() => makeCourseProfile({ ...course, lengthM: 1200 })).toThrow('profile');
  });
});

describe('the rider', () => {
  const STEP_S = 0.1;
  it('brakes in time for a stop, stands there as long as it takes, and goes on', () => {
    const clock = new RiderClock(rider, controller, [{ distanceM: 50, dwellS: 2 }], undefined, STEP_S);
    const speed = 6;
    const brakesFrom = 50 - (speed * speed) / (2 * rider.brakingMps2) - speed * STEP_S;
    expect(clock.intentAt(0, brakesFrom - 1, speed).isStopping).toBe(false);
    const stopping = clock.intentAt(STEP_S, brakesFrom + 0.1, speed);
    expect(stopping).toMatchObject({ isStopping: true, wantsSpeed: false });
    clock.endStep(stopping, 0);
    let stood = 0;
    for (let t = 0; t < 100; t++) {
      const intent = clock.intentAt(1 + t * STEP_S, 50, 0);
      if (!intent.isStanding) break;
      expect(intent.wantsSpeed).toBe(false);
      stood++;
      clock.endStep(intent, 0);
    }
    expect(stood * STEP_S).toBeCloseTo(2, 6);
    expect(clock.intentAt(20, 50.1, 0)).toMatchObject({ isStopping: false, wantsSpeed: true });
  });
  it('meets the stops of every lap again, in the order of the way', () => {
    const stops = [
      { distanceM: 80, dwellS: 1 },
      { distanceM: 20, dwellS: 1 },
    ];
    const clock = new RiderClock(rider, controller, stops, undefined, STEP_S);
    expect(clock.intentAt(0, 19.99, 3).isStopping).toBe(true);
    clock.endStep(clock.intentAt(0, 20, 0), 0);
    clock.beginLap();
    expect(clock.intentAt(9, 10, 1).isStopping).toBe(false);
    expect(clock.intentAt(9, 19.99, 1).isStopping).toBe(true);
  });
  it('does what the script says from the moment it says so', () => {
    const step = { levelShare: 1, riderW: 50 };
    const script = [
      { ...step, fromS: 0, level: 1, pedals: true, brakes: false },
      { ...step, fromS: 2, level: 2, pedals: false, brakes: false },
      { ...step, fromS: 4, level: 2, pedals: true, brakes: true },
    ];
    const clock = new RiderClock(rider, { ...controller, runOnS: 0.5, brakeCutoffS: 0.2 }, [], script, STEP_S);
    const seen = Array.from({ length: 50 }, (_, k) => clock.intentAt(k * STEP_S, k, 5));
    expect(seen.map(({ wantsSpeed }) => wantsSpeed).lastIndexOf(true)).toBe(19);
    // Help runs on for half a second after the pedals rest.
    expect(seen.slice(20, 30).filter(({ runsOn }) => runsOn)).toHaveLength(5);
    expect(seen[45]).toMatchObject({ isStopping: true, wantsSpeed: false, runsOn: false });
    expect(seen[45]!.order!.level).toBe(2);
  });
});

describe('the gear', () => {
  it('is the one nearest to an easy cadence, whatever the speed', () =>
    fc.assert(
      fc.property(between(0, 15), (speed) => {
        const { gear, wheelTurnsPerS } = transmissionAt(speed, motor, bike);
        const off = (g: number): number => Math.abs((wheelTurnsPerS / g) * 60 - 70);
        expect(bike.gears.every((other) => off(gear) <= off(other) + 1e-12)).toBe(true);
      }),
    ));
  it('carries a mid motor’s torque, and leaves a hub’s alone', () => {
    const mid = { ...motor, kind: 'mid' as const };
    expect(transmissionAt(5, mid, bike).efficiency).toBe(bike.drivetrainEfficiency);
    expect(transmissionAt(5, motor, bike).efficiency).toBe(1);
    // Power in is power out: force per torque is motor turns per metre of the way, in radians.
    for (const one of [motor, mid]) {
      const { forcePerTorque, motorRadPerS } = transmissionAt(5, one, bike);
      expect(forcePerTorque).toBeCloseTo(motorRadPerS / 5, 9);
    }
  });
});

describe('the motor current', () => {
  const at = {
    stateOfCharge: 0.8,
    windingC: 25,
    speedMps: 4,
    motorRadPerS: 4 / 0.334,
    ramp: 1,
    levelShare: 1,
    packOhm: pack.resistanceOhm,
  };
  it('never draws more from the pack than the battery limit, nor more than the level asks for', () =>
    fc.assert(
      fc.property(between(0, 8), between(0.05, 1), between(0, 1), (speedMps, stateOfCharge, levelShare) => {
        const motorRadPerS = transmissionAt(speedMps, motor, bike).motorRadPerS;
        const { phaseA, openCircuitV, windingOhm } = motorDrive(exampleRideModel, {
          ...at,
          speedMps,
          stateOfCharge,
          levelShare,
          motorRadPerS,
        });
        const drawnW = phaseA ** 2 * windingOhm + motor.torqueConstant * motorRadPerS * phaseA + controller.idleW;
        const limitA = controller.batteryCurrentLimitA;
        expect(drawnW).toBeLessThanOrEqual(limitA * (openCircuitV - at.packOhm * limitA) + 1e-6);
        expect(phaseA).toBeLessThanOrEqual(controller.phaseCurrentLimitA * levelShare + 1e-9);
        expect(phaseA).toBeGreaterThanOrEqual(0);
      }),
    ));
  it('is nothing above the speed limit, at full heat, and before help has come', () => {
    const current = (more: object): number => motorDrive(exampleRideModel, { ...at, ...more }).phaseA;
    expect(current({})).toBeGreaterThan(1);
    expect(current({ speedMps: controller.speedLimitMps + 0.01 })).toBe(0);
    expect(current({ windingC: controller.cutBackToC })).toBe(0);
    expect(current({ ramp: 0 })).toBe(0);
  });
  it('meets a warm winding with more resistance, and a cold pack with more of its own', () => {
    expect(motorDrive(exampleRideModel, { ...at, windingC: 100 }).windingOhm).toBeGreaterThan(motor.windingOhmAt25C);
    expect(packResistanceOhm(pack, 0)).toBeGreaterThan(packResistanceOhm(pack, 20));
    expect(packResistanceOhm(pack, 35)).toBe(pack.resistanceOhm);
  });
  it('comes after the delay, rises over the ramp, and is gone when the pedals rest without run-on', () => {
    const stepS = 0.1;
    const ramp = new HelpRamp({ ...controller, responseDelayS: 0.4, rampS: 0.5 }, stepS);
    const shares = Array.from({ length: 12 }, () => ramp.next(RIDING));
    expect(shares.findIndex((share) => share > 0) * stepS).toBeCloseTo(0.4, 6);
    expect(shares.at(-1)).toBe(1);
    for (let k = 1; k < shares.length; k++) expect(shares[k]! - shares[k - 1]!).toBeLessThanOrEqual(stepS / 0.5 + 1e-9);
    expect(ramp.next({ ...RIDING, wantsSpeed: false, runsOn: true })).toBe(1);
    expect(ramp.next({ ...RIDING, wantsSpeed: false })).toBe(0);
  });
  it('fades at the target speed', () => {
    expect([easingAt(3, 6), easingAt(6.6, 6), easingAt(7, 6)]).toEqual([1, 0, 0]);
    expect(easingAt(6.3, 6)).toBeCloseTo(0.5, 9);
  });
});

describe('one step of motion', () => {
  const NO_DRIVE = { openCircuitV: 48, windingOhm: 0.2, phaseA: 0, isDriving: false, ironNm: 0 };
  const forces = (intent: RiderIntent, speedMps: number, grade: number, headWindMps = 0) =>
    forcesAt(exampleRideModel, intent, NO_DRIVE, transmissionAt(speedMps, motor, bike), {
      speedMps,
      grade,
      headWindMps,
      airDensity: 1.2,
    });
  const massKg = rider.massKg + bike.massKg;
  const inertiaKg = massKg * bike.rotatingMassFactor;

  it('weighs the bike on the slope as a straight-edge would', () => {
    const { slopeN, rollingN } = forces({ ...RIDING, wantsSpeed: false }, 5, 0.08);
    const angle = Math.atan(0.08);
    expect(slopeN).toBeCloseTo(massKg * STANDARD_GRAVITY_MPS2 * Math.sin(angle), 6);
    expect(rollingN).toBeCloseTo(
      massKg * STANDARD_GRAVITY_MPS2 * bike.rollingResistanceCoefficient * Math.cos(angle),
      6,
    );
  });
  it('is pushed by a tailwind faster than the bike', () => {
    expect(forces(RIDING, 3, 0, -8).dragN).toBeLessThan(0);
    expect(forces(RIDING, 3, 0, 8).dragN).toBeGreaterThan(forces(RIDING, 3, 0).dragN);
  });
  it('stands where the rider holds it, on any hill', () =>
    fc.assert(
      fc.property(between(-0.3, 0.3), (grade) => {
        const held = forces({ ...RIDING, wantsSpeed: false, isStanding: true }, 0, grade);
        expect(held.netN).toBeCloseTo(0, 9);
        expect(moveOneStep(held, { speedMps: 0, inertiaKg, isStanding: true, stepS: 0.01 }).movedM).toBe(0);
      }),
    ));
  it('never rolls backwards, and its work is accounted for to the joule', () =>
    fc.assert(
      fc.property(
        between(0, 12),
        between(-0.2, 0.2),
        between(-5, 5),
        fc.boolean(),
        (speed, grade, wind, isStopping) => {
          const intent = { ...RIDING, wantsSpeed: !isStopping, isStopping };
          const now = forces(intent, speed, grade, wind);
          const step = moveOneStep(now, { speedMps: speed, inertiaKg, isStanding: false, stepS: 0.01 });
          expect(step.nextMps).toBeGreaterThanOrEqual(0);
          const gained = (inertiaKg * (step.nextMps ** 2 - speed ** 2)) / 2;
          const lost = (now.dragN + now.rollingN + now.slopeN) * step.movedM + step.brakesJ;
          expect(step.riderJ + step.motorJ).toBeCloseTo(gained + lost, 6);
        },
      ),
    ));
  it('goes with a wind that turns round a loop and takes nothing from it on the whole', () => {
    const conditions = { airDensity: 1.2, airTemperatureC: 20, windMps: 4, startStateOfCharge: 1, startMotorC: 20 };
    const around = Array.from({ length: 1000 }, (_, k) => headWindAt(conditions, k, 1000));
    expect(around.reduce((sum, wind) => sum + wind, 0)).toBeCloseTo(0, 6);
    expect(Math.max(...around)).toBeCloseTo(4, 6);
    expect(headWindAt({ ...conditions, isWindAlong: true }, 500, 1000)).toBe(4);
  });
});

describe('the battery in a step', () => {
  const at = { speedMps: 6, packOhm: 0.1, stepS: 0.01 };
  const transmission = transmissionAt(6, motor, bike);
  const drive = { openCircuitV: 48, windingOhm: 0.2, phaseA: 20, isDriving: true, ironNm: 0.6 };
  const motion = { nextMps: 6, meanMps: 6, movedM: 0.06, motorJ: 8, riderJ: 0, brakesJ: 0 };

  it('gives at its terminals what motor, losses and electronics took', () => {
    const step = electricStep(exampleRideModel, RIDING, drive, transmission, motion, at);
    expect(step.terminalJ).toBeCloseTo(motion.motorJ + step.copperJ + step.ironJ + step.controllerJ, 9);
    expect(step.voltageV * step.currentA * at.stepS).toBeCloseTo(step.terminalJ, 9);
    expect(step.voltageV).toBeCloseTo(48 - 0.1 * step.currentA, 12);
  });
  it('takes back no more than braking had to give, and nothing through a freewheel', () => {
    const stopping = { ...RIDING, isStopping: true, wantsSpeed: false };
    const braking = { ...motion, motorJ: 0, brakesJ: 1 };
    const off = { ...drive, phaseA: 0, isDriving: false };
    const step = electricStep(exampleRideModel, stopping, off, transmission, braking, at);
    expect(step.regeneratedJ).toBeGreaterThan(0);
    expect(step.regeneratedJ).toBeLessThanOrEqual(0.6);
    const freewheel = { ...exampleRideModel, motor: { ...motor, hasFreewheel: true } };
    expect(electricStep(freewheel, stopping, off, transmission, braking, at).regeneratedJ).toBe(0);
  });
});
