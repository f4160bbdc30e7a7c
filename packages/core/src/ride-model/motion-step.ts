import { dragForceN } from '../physics/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../units/index.js';
import { easingAt, type MotorDrive, type Transmission } from './drive-step.js';
import type { RideConditions, RideModel } from './parameters.js';
import type { RiderIntent } from './rider-intent.js';

const MAX_PEDAL_FORCE_N = 180;
/** So far above the target speed a rider brakes downhill, m/s. */
const BRAKES_ABOVE_MPS = 1.5;

export interface Forces {
  readonly motorN: number;
  readonly riderN: number;
  readonly dragN: number;
  readonly rollingN: number;
  readonly slopeN: number;
  /** All of them, less what the brakes hold. */
  readonly netN: number;
}

/** Along the track, N: motor, rider, air, rolling, slope, brakes. Iron loss is a torque against the turning, paid by the current when driving. */
export function forcesAt(
  { motor, rider, bike }: RideModel,
  intent: RiderIntent,
  drive: MotorDrive,
  { forcePerTorque, efficiency }: Transmission,
  at: { readonly speedMps: number; readonly grade: number; readonly headWindMps: number; readonly airDensity: number },
): Forces {
  const { order, wantsSpeed, isStanding, isStopping } = intent;
  const { speedMps, grade, headWindMps } = at;
  const massKg = rider.massKg + bike.massKg;
  const sine = grade / Math.sqrt(1 + grade * grade);
  const cosine = 1 / Math.sqrt(1 + grade * grade);
  const shaftNm = motor.torqueConstant * drive.phaseA - drive.ironNm;
  const motorN = drive.isDriving ? Math.max(0, shaftNm) * forcePerTorque * efficiency : -drive.ironNm * forcePerTorque;
  const dragN = speedMps > 0 || headWindMps < 0 ? dragForceN(at.airDensity, bike.dragAreaM2, speedMps, headWindMps) : 0;
  const rollingN = massKg * STANDARD_GRAVITY_MPS2 * bike.rollingResistanceCoefficient * cosine;
  const slopeN = massKg * STANDARD_GRAVITY_MPS2 * sine;
  const riderN = wantsSpeed
    ? Math.min(MAX_PEDAL_FORCE_N, (order?.riderW ?? rider.powerW) / Math.max(speedMps, 0.5)) *
      Math.min(1, easingAt(speedMps, rider.targetSpeedMps) * 4)
    : 0;
  const freeN = motorN + riderN - dragN - rollingN - slopeN;
  let brakeN = 0;
  if (isStanding) brakeN = freeN;
  else if (isStopping) brakeN = Math.max(0, freeN + rider.brakingMps2 * (massKg * bike.rotatingMassFactor));
  // Downhill the rider brakes to hold the target speed.
  else if (!order && speedMps > rider.targetSpeedMps + BRAKES_ABOVE_MPS && freeN > 0) brakeN = freeN;
  return { motorN, riderN, dragN, rollingN, slopeN, netN: freeN - brakeN };
}

/** Head wind > 0. It turns with a loop: wind · cos(2π · distance / length), unless it blows along the course. */
export function headWindAt({ windMps, isWindAlong }: RideConditions, onLapM: number, lapM: number): number {
  return isWindAlong ? windMps : windMps * Math.cos((2 * Math.PI * onLapM) / lapM);
}

export interface Motion {
  readonly nextMps: number;
  readonly meanMps: number;
  readonly movedM: number;
  readonly motorJ: number;
  readonly riderJ: number;
  /** What is left of the balance: braking work, and what brakes and feet hold at a standstill. */
  readonly brakesJ: number;
}

/** One step of the equation of motion, semi-implicit in speed; every force's work is taken over the mean speed of the step. */
export function moveOneStep(
  forces: Forces,
  {
    speedMps,
    inertiaKg,
    isStanding,
    stepS,
  }: Readonly<Record<'speedMps' | 'inertiaKg' | 'stepS', number>> & {
    readonly isStanding: boolean;
  },
): Motion {
  // A bike that would roll backwards is held.
  const nextMps = isStanding ? 0 : Math.max(0, speedMps + (forces.netN / inertiaKg) * stepS);
  const meanMps = (speedMps + nextMps) / 2;
  const movedM = meanMps * stepS;
  const gainedJ = (inertiaKg * (nextMps * nextMps - speedMps * speedMps)) / 2;
  const riderJ = forces.riderN * movedM;
  const motorJ = forces.motorN * movedM;
  const brakesJ = motorJ + riderJ - (forces.dragN + forces.rollingN + forces.slopeN) * movedM - gainedJ;
  return { nextMps, meanMps, movedM, motorJ, riderJ, brakesJ };
}
