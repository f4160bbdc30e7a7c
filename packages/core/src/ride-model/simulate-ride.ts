import { requirePositive } from '../errors/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../units/index.js';
import { makeCourseProfile } from './course-profile.js';
import { cadenceOf, HelpRamp, motorDrive, packResistanceOhm, transmissionAt } from './drive-step.js';
import { electricStep, type ElectricStep } from './electric-step.js';
import { closeBook, emptyBook, type EnergyBook, type RunningBook } from './energy-book.js';
import { forcesAt, headWindAt, moveOneStep, type Forces, type Motion } from './motion-step.js';
import { warmMotor, type MotorHeat } from './motor-heat.js';
import type { RideConditions, RideCourse, RideModel, ScriptStep } from './parameters.js';
import { TraceRecorder, type RideTrace } from './ride-trace.js';
import { RiderClock } from './rider-intent.js';

export interface RideResult {
  readonly trace: RideTrace;
  readonly book: EnergyBook;
  readonly terminalEnergyOutJ: number;
  readonly terminalEnergyRegeneratedJ: number;
  readonly endedBy: 'finish' | 'cut-off' | 'time';
  readonly movingS: number;
}

/** Slower than this is not moving, m/s. */
const MOVING_MPS = 0.5;

/**
 * Rides a course by the along-track equation of motion with battery, controller, motor, heat and rider.
 *
 * Method: fixed step, each in this order: what the rider wants, gear and motor speed, motor current, forces, motion, battery
 * current, heat. Every force's work is taken over the mean speed of the step, so that the energy book closes.
 * Fails: throws `not-positive` for a step ≤ 0 and `bad-course` for a profile that does not reach the end.
 */
export function simulateRide(
  model: RideModel,
  course: RideCourse,
  conditions: RideConditions,
  options: {
    stepS?: number;
    recordHz?: number;
    laps?: number;
    timeLimitS?: number;
    /** Steps in the order of time, the first at 0; the ride then ends at `timeLimitS` at the latest. */
    script?: readonly ScriptStep[];
    startSpeedMps?: number;
  } = {},
): RideResult {
  const { stepS = 0.01, recordHz = 1, laps = 1, timeLimitS = 6 * 3600, script, startSpeedMps = 0 } = options;
  requirePositive({ stepS, recordHz, laps });
  const { pack, motor, controller, rider, bike } = model;
  const profile = makeCourseProfile(course);
  const massKg = rider.massKg + bike.massKg;
  const inertiaKg = massKg * bike.rotatingMassFactor;
  const totalM = course.lengthM * laps;
  const recordEvery = Math.max(1, Math.round(1 / (recordHz * stepS)));
  const packOhm = packResistanceOhm(pack, conditions.airTemperatureC);
  const recorder = new TraceRecorder();
  const clock = new RiderClock(rider, controller, course.stops, script, stepS);
  const help = new HelpRamp(controller, stepS);
  const book = emptyBook();

  let timeS = 0;
  let distanceM = 0;
  let speedMps = startSpeedMps;
  let lap = 0;
  let stateOfCharge = conditions.startStateOfCharge;
  let heat: MotorHeat = { windingC: conditions.startMotorC, bodyC: conditions.startMotorC };
  let endedBy: RideResult['endedBy'] = 'finish';
  let movingS = 0;
  let terminalEnergyOutJ = 0;
  let terminalEnergyRegeneratedJ = 0;

  for (let step = 0; distanceM < totalM; step++) {
    if (timeS >= timeLimitS) {
      endedBy = 'time';
      break;
    }
    const onLapM = distanceM - lap * course.lengthM;
    const intent = clock.intentAt(timeS, onLapM, speedMps);
    const transmission = transmissionAt(speedMps, motor, bike);
    const drive = motorDrive(model, {
      stateOfCharge,
      windingC: heat.windingC,
      speedMps,
      motorRadPerS: transmission.motorRadPerS,
      ramp: help.next(intent),
      levelShare: intent.order?.levelShare ?? controller.levelShare,
      packOhm,
    });
    const forces = forcesAt(model, intent, drive, transmission, {
      speedMps,
      grade: profile.grade(onLapM),
      headWindMps: headWindAt(conditions, onLapM, course.lengthM),
      airDensity: conditions.airDensity,
    });
    const motion = moveOneStep(forces, { speedMps, inertiaKg, isStanding: intent.isStanding, stepS });
    const electric = electricStep(model, intent, drive, transmission, motion, { speedMps, packOhm, stepS });
    if (electric.terminalJ > 0) terminalEnergyOutJ += electric.terminalJ;
    else terminalEnergyRegeneratedJ -= electric.terminalJ;
    enter(book, forces, motion, electric, { openCircuitV: drive.openCircuitV, packOhm, stepS });
    if (step % recordEvery === 0)
      recorder.add({
        timeS,
        distanceM,
        speedMps,
        altitudeM: profile.altitude(onLapM) + lap * profile.gainPerLapM,
        voltageV: electric.voltageV,
        currentA: electric.currentA,
        motorC: heat.windingC,
        cadenceRpm: cadenceOf(intent, transmission, speedMps),
        stateOfCharge,
        riderW: forces.riderN * speedMps,
        assistLevel: intent.order?.level ?? 1,
        brake: intent.isStopping ? 1 : 0,
      });

    heat = warmMotor(motor, heat, electric, conditions.airTemperatureC, stepS);
    stateOfCharge -= (electric.currentA * stepS) / 3600 / pack.capacityAh;
    distanceM += motion.movedM;
    speedMps = motion.nextMps;
    if (electric.voltageV < pack.cutoffV || stateOfCharge <= 0) {
      endedBy = 'cut-off';
      break;
    }
    if (motion.meanMps > MOVING_MPS) movingS += stepS;
    timeS += stepS;
    clock.endStep(intent, speedMps);
    if (distanceM - lap * course.lengthM >= course.lengthM) {
      lap++;
      clock.beginLap();
    }
  }
  const endM = profile.altitude(Math.min(course.lengthM, distanceM - lap * course.lengthM)) + lap * profile.gainPerLapM;
  return {
    trace: recorder.toTrace(),
    book: closeBook(
      book,
      (inertiaKg * speedMps * speedMps) / 2,
      massKg * STANDARD_GRAVITY_MPS2 * (endM - profile.altitude(0)),
    ),
    terminalEnergyOutJ,
    terminalEnergyRegeneratedJ,
    endedBy,
    movingS,
  };
}

function enter(
  book: RunningBook,
  { dragN, rollingN }: Forces,
  { movedM, riderJ, brakesJ }: Motion,
  { copperJ, ironJ, drivetrainJ, controllerJ, regeneratedJ, currentA }: ElectricStep,
  { openCircuitV, packOhm, stepS }: Readonly<Record<'openCircuitV' | 'packOhm' | 'stepS', number>>,
): void {
  book.chemicalJ += openCircuitV * currentA * stepS;
  book.batteryLossJ += packOhm * currentA * currentA * stepS;
  book.controllerLossJ += controllerJ;
  book.copperLossJ += copperJ;
  book.ironLossJ += ironJ;
  book.drivetrainLossJ += drivetrainJ;
  book.riderJ += riderJ;
  book.dragJ += dragN * movedM;
  book.rollingJ += rollingN * movedM;
  // Regenerated energy was taken from the braking work.
  book.brakesJ += brakesJ - regeneratedJ;
}
