import { CoreError, requirePositive } from '../errors/index.js';
import { dragForceN } from '../physics/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../units/index.js';
import { warmMotor, type MotorHeat } from './motor-heat.js';
import { openCircuitVoltage } from '../battery/index.js';
import type { RideConditions, RideCourse, RideModel, ScriptStep } from './parameters.js';

/** True state of the ride, kept `recordHz` times a second. */
export interface RideTrace {
  readonly timeS: Float64Array;
  readonly distanceM: Float64Array;
  readonly speedMps: Float64Array;
  readonly altitudeM: Float64Array;
  readonly voltageV: Float64Array;
  /** Positive while the battery discharges. */
  readonly currentA: Float64Array;
  /** Of the winding, where a motor's sensor sits. */
  readonly motorC: Float64Array;
  readonly cadenceRpm: Float64Array;
  readonly stateOfCharge: Float64Array;
  readonly riderW: Float64Array;
  readonly assistLevel: Float64Array;
  /** 1 while the brake is pulled. */
  readonly brake: Float64Array;
}

/** Where the energy came from and went, J; `imbalanceShare` is what does not add up, as a share of the input. */
export interface EnergyBook {
  readonly chemicalJ: number;
  readonly riderJ: number;
  readonly kineticJ: number;
  readonly potentialJ: number;
  readonly dragJ: number;
  readonly rollingJ: number;
  readonly brakesJ: number;
  readonly batteryLossJ: number;
  readonly controllerLossJ: number;
  readonly copperLossJ: number;
  readonly ironLossJ: number;
  readonly drivetrainLossJ: number;
  readonly imbalanceShare: number;
}

export interface RideResult {
  readonly trace: RideTrace;
  readonly book: EnergyBook;
  readonly terminalEnergyOutJ: number;
  readonly terminalEnergyRegeneratedJ: number;
  readonly endedBy: 'finish' | 'cut-off' | 'time';
  readonly movingS: number;
}

/** Copper's change of resistance, 1/K. */
const COPPER_PER_K = 0.00393;
const MAX_PEDAL_FORCE_N = 180;
const REGENERATION_ENDS_MPS = 1.7;
const COLD_RESISTANCE_PER_K = 0.015;
const PREFERRED_CADENCE_RPM = 70;
const SLOWEST_CADENCE_RPM = 15;

/**
 * Rides a course by the along-track equation of motion with battery, controller, motor, heat and rider.
 *
 * Method: fixed step, semi-implicit in speed; every force's work is taken over the mean speed of the step, so that the
 * energy book closes. Wind turns with the course (a loop): head wind = wind · cos(2π · distance / length).
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
  const profile = makeProfile(course);
  const stops = [...course.stops].sort((a, b) => a.distanceM - b.distanceM);
  const massKg = rider.massKg + bike.massKg;
  const inertiaKg = massKg * bike.rotatingMassFactor;
  const circumference = bike.wheelCircumferenceM;
  const totalM = course.lengthM * laps;
  const recordEvery = Math.max(1, Math.round(1 / (recordHz * stepS)));
  const packOhm = pack.resistanceOhm * (1 + COLD_RESISTANCE_PER_K * Math.max(0, 20 - conditions.airTemperatureC));
  const record = new Recorder();

  let t = 0;
  let x = 0;
  let v = startSpeedMps;
  let scripted = 0;
  let sinceStopS = Infinity;
  let sinceBrakeS = 0;
  let soc = conditions.startStateOfCharge;
  let heat: MotorHeat = { windingC: conditions.startMotorC, bodyC: conditions.startMotorC };
  let ramp = 0;
  let helpSinceS = 0;
  let dwellS = 0;
  let stopIndex = 0;
  let lap = 0;
  let endedBy: RideResult['endedBy'] = 'finish';
  let movingS = 0;
  let out = 0;
  let regenerated = 0;
  const sums = {
    chemical: 0,
    rider: 0,
    drag: 0,
    rolling: 0,
    brakes: 0,
    battery: 0,
    controller: 0,
    copper: 0,
    iron: 0,
    drivetrain: 0,
  };
  const startAltitude = profile.altitude(0);

  for (let step = 0; x < totalM; step++) {
    if (t >= timeLimitS) {
      endedBy = 'time';
      break;
    }
    const onLap = x - lap * course.lengthM;
    const grade = profile.grade(onLap);
    const sine = grade / Math.sqrt(1 + grade * grade);
    const cosine = 1 / Math.sqrt(1 + grade * grade);

    const stop = stops[stopIndex];
    const toStopM = stop ? stop.distanceM - onLap : Infinity;
    while (script && scripted < script.length - 1 && script[scripted + 1]!.fromS <= t + 1e-9) scripted++;
    const order = script?.[scripted];
    const isStopping = order ? order.brakes : toStopM <= (v * v) / (2 * rider.brakingMps2) + v * stepS;
    const isStanding = dwellS > 0;
    const wantsSpeed = order ? order.pedals && !order.brakes : !isStopping && !isStanding;
    const levelShare = order?.levelShare ?? controller.levelShare;
    const riderW = order?.riderW ?? rider.powerW;
    sinceStopS = wantsSpeed ? 0 : sinceStopS + stepS;
    sinceBrakeS = isStopping ? sinceBrakeS + stepS : 0;
    const runsOn = isStopping
      ? sinceBrakeS <= (controller.brakeCutoffS ?? 0) && sinceStopS <= sinceBrakeS + stepS
      : sinceStopS <= (controller.runOnS ?? 0);

    // Gear and motor speed.
    const wheelTurns = v / circumference;
    const gear = nearestGear(bike.gears, wheelTurns);
    const motorTurns = motor.kind === 'hub' ? wheelTurns * motor.gearRatio : (wheelTurns / gear) * motor.gearRatio;
    const motorRadPerS = motorTurns * 2 * Math.PI;
    const forcePerTorque =
      (motor.kind === 'hub' ? motor.gearRatio : motor.gearRatio / gear) * ((2 * Math.PI) / circumference);
    const driveEfficiency = motor.kind === 'mid' ? bike.drivetrainEfficiency : 1;

    // Electrical side.
    const ocv = pack.seriesCells * openCircuitVoltage(pack.chemistry, soc);
    const motorC = heat.windingC;
    const windingOhm = motor.windingOhmAt25C * (1 + COPPER_PER_K * (motorC - 25));
    const nearLimit = Math.min(1, Math.max(0, (controller.speedLimitMps - v) / controller.taperMps));
    const easing = Math.min(1, Math.max(0, (rider.targetSpeedMps + 0.6 - v) / 0.6));
    const heatShare = Math.min(
      1,
      Math.max(0, (controller.cutBackToC - motorC) / (controller.cutBackToC - controller.cutBackFromC)),
    );
    helpSinceS = wantsSpeed ? helpSinceS + stepS : 0;
    if (wantsSpeed) ramp = helpSinceS > controller.responseDelayS ? Math.min(1, ramp + stepS / controller.rampS) : 0;
    else if (!runsOn) ramp = 0;
    let phaseA = controller.phaseCurrentLimitA * levelShare * Math.min(nearLimit, easing) * heatShare * ramp;
    const backEmf = motor.torqueConstant * motorRadPerS;
    phaseA = Math.max(0, Math.min(phaseA, (ocv - backEmf) / windingOhm));
    const isDriving = phaseA > 1e-9;
    const ironNm = motor.hasFreewheel && !isDriving ? 0 : v > 0 ? motor.ironLossNm : 0;
    if (isDriving) {
      const limitW = controller.batteryCurrentLimitA * (ocv - packOhm * controller.batteryCurrentLimitA);
      const loadW = phaseA * phaseA * windingOhm + backEmf * phaseA + controller.idleW;
      if (loadW > limitW)
        phaseA =
          (-backEmf + Math.sqrt(backEmf * backEmf + 4 * windingOhm * (limitW - controller.idleW))) / (2 * windingOhm);
    }
    const isRegenerating =
      isStopping && !motor.hasFreewheel && controller.regenerationCurrentA > 0 && v > REGENERATION_ENDS_MPS;

    // Mechanical side. Iron loss is a torque against the motor's turning, paid by the current when driving.
    const shaftNm = motor.torqueConstant * phaseA - ironNm;
    const motorForceN = isDriving ? Math.max(0, shaftNm) * forcePerTorque * driveEfficiency : -ironNm * forcePerTorque;
    const airSpeedWind = conditions.isWindAlong
      ? conditions.windMps
      : conditions.windMps * Math.cos((2 * Math.PI * onLap) / course.lengthM);
    const dragN = v > 0 || airSpeedWind < 0 ? dragForceN(conditions.airDensity, bike.dragAreaM2, v, airSpeedWind) : 0;
    const rollingN = massKg * STANDARD_GRAVITY_MPS2 * bike.rollingResistanceCoefficient * cosine;
    const slopeN = massKg * STANDARD_GRAVITY_MPS2 * sine;
    const riderN = wantsSpeed ? Math.min(MAX_PEDAL_FORCE_N, riderW / Math.max(v, 0.5)) * Math.min(1, easing * 4) : 0;
    let forceN = motorForceN + riderN - dragN - rollingN - slopeN;
    let brakeN = 0;
    if (isStanding) brakeN = forceN;
    else if (isStopping) brakeN = Math.max(0, forceN + rider.brakingMps2 * inertiaKg);
    // Downhill the rider brakes to hold the target speed.
    else if (!order && v > rider.targetSpeedMps + 1.5 && forceN > 0) brakeN = forceN;
    forceN -= brakeN;

    let nextV = v + (forceN / inertiaKg) * stepS;
    if (nextV < 0) {
      // The bike stops within the step; what force is left is held by the brakes and feet, not turned into motion backwards.
      nextV = 0;
    }
    if (isStanding) nextV = 0;
    const meanV = (v + nextV) / 2;
    const dx = meanV * stepS;
    const gainedJ = (inertiaKg * (nextV * nextV - v * v)) / 2;
    const riderJ = riderN * dx;
    const motorJ = motorForceN * dx;
    // Braking work is what is left of the balance in steps that end at a standstill, and force × way else.
    const brakesJ = motorJ + riderJ - (dragN + rollingN + slopeN) * dx - gainedJ;

    const regenerationV = ocv + packOhm * controller.regenerationCurrentA;
    const regeneratedJ = isRegenerating
      ? Math.min(controller.regenerationCurrentA * regenerationV * stepS, 0.6 * Math.max(0, brakesJ))
      : 0;
    const copperJ = phaseA * phaseA * windingOhm * stepS;
    const meanMotorRadPerS = motorRadPerS === 0 ? 0 : motorRadPerS * (meanV / Math.max(v, 1e-12));
    const shaftJ = isDriving ? motorJ / driveEfficiency : 0;
    const ironJ = ironNm * (isDriving ? meanMotorRadPerS : forcePerTorque * meanV) * stepS;
    const drivetrainJ = isDriving ? shaftJ - motorJ : 0;
    const controllerJ = controller.idleW * stepS;
    const terminalJ = (isDriving ? shaftJ + copperJ + ironJ : 0) + controllerJ - regeneratedJ;
    const terminalW = terminalJ / stepS;
    const currentA = (ocv - Math.sqrt(Math.max(0, ocv * ocv - 4 * packOhm * terminalW))) / (2 * packOhm);
    const voltage = ocv - packOhm * currentA;
    if (terminalW > 0) out += terminalJ;
    else regenerated -= terminalJ;

    sums.chemical += ocv * currentA * stepS;
    sums.battery += packOhm * currentA * currentA * stepS;
    sums.controller += controllerJ;
    sums.copper += copperJ;
    sums.iron += ironJ;
    sums.drivetrain += drivetrainJ;
    sums.rider += riderJ;
    sums.drag += dragN * dx;
    sums.rolling += rollingN * dx;
    // Regenerated energy was taken from the braking work.
    sums.brakes += brakesJ - regeneratedJ;

    if (step % recordEvery === 0)
      record.add(
        t,
        x,
        v,
        profile.altitude(onLap) + lap * profile.gainPerLap,
        voltage,
        currentA,
        motorC,
        cadenceOf(wantsSpeed, order !== undefined, (wheelTurns / gear) * 60, v),
        soc,
        riderN * v,
        order?.level ?? 1,
        isStopping ? 1 : 0,
      );

    heat = warmMotor(motor, heat, { copperJ, ironJ }, conditions.airTemperatureC, stepS);
    soc -= (currentA * stepS) / 3600 / pack.capacityAh;
    if (voltage < pack.cutoffV || soc <= 0) {
      endedBy = 'cut-off';
      x += dx;
      v = nextV;
      break;
    }
    if (meanV > 0.5) movingS += stepS;
    x += dx;
    v = nextV;
    t += stepS;
    if (isStanding) {
      dwellS -= stepS;
      if (dwellS <= 0) dwellS = 0;
    } else if (stop && isStopping && v < 0.05) {
      dwellS = stop.dwellS;
      stopIndex++;
    }
    if (x - lap * course.lengthM >= course.lengthM) {
      lap++;
      stopIndex = 0;
    }
  }
  const kineticJ = (inertiaKg * v * v) / 2;
  const endAltitude = profile.altitude(Math.min(course.lengthM, x - lap * course.lengthM)) + lap * profile.gainPerLap;
  const potentialJ = massKg * STANDARD_GRAVITY_MPS2 * (endAltitude - startAltitude);
  const input = sums.chemical + sums.rider;
  const spent =
    kineticJ +
    potentialJ +
    sums.drag +
    sums.rolling +
    sums.brakes +
    sums.battery +
    sums.controller +
    sums.copper +
    sums.iron +
    sums.drivetrain;
  return {
    trace: record.toTrace(),
    book: {
      chemicalJ: sums.chemical,
      riderJ: sums.rider,
      kineticJ,
      potentialJ,
      dragJ: sums.drag,
      rollingJ: sums.rolling,
      brakesJ: sums.brakes,
      batteryLossJ: sums.battery,
      controllerLossJ: sums.controller,
      copperLossJ: sums.copper,
      ironLossJ: sums.iron,
      drivetrainLossJ: sums.drivetrain,
      imbalanceShare: (input - spent) / input,
    },
    terminalEnergyOutJ: out,
    terminalEnergyRegeneratedJ: regenerated,
    endedBy,
    movingS,
  };
}

/** Who is told to pedal turns the cranks at once, if slowly: a sensor at them knows it. */
function cadenceOf(wantsSpeed: boolean, isTold: boolean, rpm: number, speedMps: number): number {
  if (!wantsSpeed) return 0;
  if (isTold) return Math.max(SLOWEST_CADENCE_RPM, rpm);
  return speedMps > 0.3 ? rpm : 0;
}

function nearestGear(gears: readonly number[], wheelTurnsPerS: number): number {
  let best = gears[0] ?? 1;
  for (const gear of gears)
    if (
      Math.abs((wheelTurnsPerS / gear) * 60 - PREFERRED_CADENCE_RPM) <
      Math.abs((wheelTurnsPerS / best) * 60 - PREFERRED_CADENCE_RPM)
    )
      best = gear;
  return best;
}

/** Altitude and grade along the course; the last segment found is tried first, since a ride only goes on. */
function makeProfile({ profile, lengthM }: RideCourse): {
  altitude(x: number): number;
  grade(x: number): number;
  gainPerLap: number;
} {
  const last = profile.at(-1);
  if (profile.length < 2 || !last || Math.abs(last.distanceM - lengthM) > 1)
    throw new CoreError('bad-course', 'the profile must reach from 0 to the end of the course');
  let segment = 1;
  const find = (x: number): number => {
    if (x < profile[segment - 1]!.distanceM) segment = 1;
    while (segment < profile.length - 1 && profile[segment]!.distanceM < x) segment++;
    return segment;
  };
  const gradeOf = profile.map((point, k) =>
    k === 0 ? 0 : (point.altitudeM - profile[k - 1]!.altitudeM) / (point.distanceM - profile[k - 1]!.distanceM),
  );
  return {
    // Along-track distance: the rise per metre ridden is the sine of the slope, g / √(1 + g²).
    altitude(x) {
      const k = find(x);
      let altitude = profile[0]!.altitudeM;
      for (let j = 1; j < k; j++) altitude += riseOf(gradeOf[j]!) * (profile[j]!.distanceM - profile[j - 1]!.distanceM);
      return altitude + riseOf(gradeOf[k]!) * (x - profile[k - 1]!.distanceM);
    },
    grade: (x) => gradeOf[find(x)]!,
    gainPerLap: gradeOf.reduce(
      (sum, grade, k) => (k === 0 ? 0 : sum + riseOf(grade) * (profile[k]!.distanceM - profile[k - 1]!.distanceM)),
      0,
    ),
  };
}

function riseOf(grade: number): number {
  return grade / Math.sqrt(1 + grade * grade);
}

class Recorder {
  private readonly columns: number[][] = Array.from({ length: 12 }, () => []);
  add(...values: number[]): void {
    values.forEach((value, k) => this.columns[k]!.push(value));
  }
  toTrace(): RideTrace {
    const [
      timeS,
      distanceM,
      speedMps,
      altitudeM,
      voltageV,
      currentA,
      motorC,
      cadenceRpm,
      stateOfCharge,
      riderW,
      assistLevel,
      brake,
    ] = this.columns.map((c) => Float64Array.from(c));
    return {
      timeS: timeS!,
      distanceM: distanceM!,
      speedMps: speedMps!,
      altitudeM: altitudeM!,
      voltageV: voltageV!,
      currentA: currentA!,
      motorC: motorC!,
      cadenceRpm: cadenceRpm!,
      stateOfCharge: stateOfCharge!,
      riderW: riderW!,
      assistLevel: assistLevel!,
      brake: brake!,
    };
  }
}
