import { openCircuitVoltage } from '../battery/index.js';
import type { BikeModel, ControllerModel, MotorModel, PackModel, RideModel } from './parameters.js';
import type { RiderIntent } from './rider-intent.js';

/** Copper's change of resistance, 1/K. */
const COPPER_PER_K = 0.00393;
const COLD_RESISTANCE_PER_K = 0.015;
const PREFERRED_CADENCE_RPM = 70;
const SLOWEST_CADENCE_RPM = 15;
/** Over so much below the target speed the rider eases off, m/s. */
const EASING_MPS = 0.6;

export interface Transmission {
  /** Wheel turns per crank turn of the gear the rider would choose. */
  readonly gear: number;
  readonly wheelTurnsPerS: number;
  readonly motorRadPerS: number;
  /** N at the tyre per N·m at the motor's shaft. */
  readonly forcePerTorque: number;
  readonly efficiency: number;
}

/** Gear and motor speed at a speed of the bike. */
export function transmissionAt(
  speedMps: number,
  motor: MotorModel,
  { wheelCircumferenceM, gears, drivetrainEfficiency }: BikeModel,
): Transmission {
  const wheelTurnsPerS = speedMps / wheelCircumferenceM;
  const gear = nearestGear(gears, wheelTurnsPerS);
  const motorTurns =
    motor.kind === 'hub' ? wheelTurnsPerS * motor.gearRatio : (wheelTurnsPerS / gear) * motor.gearRatio;
  return {
    gear,
    wheelTurnsPerS,
    motorRadPerS: motorTurns * 2 * Math.PI,
    forcePerTorque:
      (motor.kind === 'hub' ? motor.gearRatio : motor.gearRatio / gear) * ((2 * Math.PI) / wheelCircumferenceM),
    efficiency: motor.kind === 'mid' ? drivetrainEfficiency : 1,
  };
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

/** Who is told to pedal turns the cranks at once, if slowly: a sensor at them knows it. */
export function cadenceOf(
  { wantsSpeed, order }: RiderIntent,
  { gear, wheelTurnsPerS }: Transmission,
  speedMps: number,
): number {
  const rpm = (wheelTurnsPerS / gear) * 60;
  if (!wantsSpeed) return 0;
  if (order) return Math.max(SLOWEST_CADENCE_RPM, rpm);
  return speedMps > 0.3 ? rpm : 0;
}

/** 1 well below the target speed, 0 from a little above it. */
export function easingAt(speedMps: number, targetSpeedMps: number): number {
  return Math.min(1, Math.max(0, (targetSpeedMps + EASING_MPS - speedMps) / EASING_MPS));
}

/** Resistance of the pack in the air of the ride: it rises towards the cold. */
export function packResistanceOhm({ resistanceOhm }: PackModel, airTemperatureC: number): number {
  return resistanceOhm * (1 + COLD_RESISTANCE_PER_K * Math.max(0, 20 - airTemperatureC));
}

/** How far help has come up since the pedals turned: delay, then a ramp; gone when run-on ends. */
export class HelpRamp {
  private share = 0;
  private askedS = 0;

  constructor(
    private readonly controller: ControllerModel,
    private readonly stepS: number,
  ) {}

  next({ wantsSpeed, runsOn }: RiderIntent): number {
    const { responseDelayS, rampS } = this.controller;
    this.askedS = wantsSpeed ? this.askedS + this.stepS : 0;
    if (wantsSpeed) this.share = this.askedS > responseDelayS ? Math.min(1, this.share + this.stepS / rampS) : 0;
    else if (!runsOn) this.share = 0;
    return this.share;
  }
}

export interface MotorDrive {
  readonly openCircuitV: number;
  readonly windingOhm: number;
  readonly phaseA: number;
  readonly isDriving: boolean;
  /** Drag of the iron against the turning, N·m at the motor's shaft. */
  readonly ironNm: number;
}

/**
 * The motor current of a step: what the level asks for, less near the speed limit, at the target speed and when hot; then
 * no more than the back-EMF leaves room for, and no more than the battery limit allows.
 *
 * Units: share of charge 0…1, °C, m/s, Ω. Source: direct-current machine, P = R·I² + k·ω·I.
 */
export function motorDrive(
  { pack, motor, controller, rider }: RideModel,
  at: {
    readonly stateOfCharge: number;
    readonly windingC: number;
    readonly speedMps: number;
    readonly motorRadPerS: number;
    readonly ramp: number;
    readonly levelShare: number;
    readonly packOhm: number;
  },
): MotorDrive {
  const openCircuitV = pack.seriesCells * openCircuitVoltage(pack.chemistry, at.stateOfCharge);
  const windingOhm = motor.windingOhmAt25C * (1 + COPPER_PER_K * (at.windingC - 25));
  const nearLimit = Math.min(1, Math.max(0, (controller.speedLimitMps - at.speedMps) / controller.taperMps));
  const easing = easingAt(at.speedMps, rider.targetSpeedMps);
  const heatShare = Math.min(
    1,
    Math.max(0, (controller.cutBackToC - at.windingC) / (controller.cutBackToC - controller.cutBackFromC)),
  );
  const backEmfV = motor.torqueConstant * at.motorRadPerS;
  const askedA = controller.phaseCurrentLimitA * at.levelShare * Math.min(nearLimit, easing) * heatShare * at.ramp;
  let phaseA = Math.max(0, Math.min(askedA, (openCircuitV - backEmfV) / windingOhm));
  const isDriving = phaseA > 1e-9;
  const ironNm = motor.hasFreewheel && !isDriving ? 0 : at.speedMps > 0 ? motor.ironLossNm : 0;
  if (isDriving) {
    const limitW = controller.batteryCurrentLimitA * (openCircuitV - at.packOhm * controller.batteryCurrentLimitA);
    const loadW = phaseA * phaseA * windingOhm + backEmfV * phaseA + controller.idleW;
    if (loadW > limitW)
      phaseA =
        (-backEmfV + Math.sqrt(backEmfV * backEmfV + 4 * windingOhm * (limitW - controller.idleW))) / (2 * windingOhm);
  }
  return { openCircuitV, windingOhm, phaseA, isDriving, ironNm };
}
