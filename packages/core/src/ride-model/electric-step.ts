import type { MotorDrive, Transmission } from './drive-step.js';
import type { Motion } from './motion-step.js';
import type { RideModel } from './parameters.js';
import type { RiderIntent } from './rider-intent.js';

const REGENERATION_ENDS_MPS = 1.7;
/** No more of the braking work than this comes back. */
const REGENERATED_SHARE = 0.6;

export interface ElectricStep {
  readonly copperJ: number;
  readonly ironJ: number;
  readonly drivetrainJ: number;
  readonly controllerJ: number;
  readonly regeneratedJ: number;
  /** At the battery's terminals, positive while it discharges. */
  readonly terminalJ: number;
  readonly currentA: number;
  readonly voltageV: number;
}

/** What a step of motion drew from the battery, and where it was lost. Source: P = U₀·I − R·I² solved for the current. */
export function electricStep(
  { motor, controller }: RideModel,
  intent: RiderIntent,
  { openCircuitV, windingOhm, phaseA, isDriving, ironNm }: MotorDrive,
  { motorRadPerS, forcePerTorque, efficiency }: Transmission,
  { meanMps, motorJ, brakesJ }: Motion,
  { speedMps, packOhm, stepS }: Readonly<Record<'speedMps' | 'packOhm' | 'stepS', number>>,
): ElectricStep {
  const isRegenerating =
    intent.isStopping && !motor.hasFreewheel && controller.regenerationCurrentA > 0 && speedMps > REGENERATION_ENDS_MPS;
  const regenerationV = openCircuitV + packOhm * controller.regenerationCurrentA;
  const regeneratedJ = isRegenerating
    ? Math.min(controller.regenerationCurrentA * regenerationV * stepS, REGENERATED_SHARE * Math.max(0, brakesJ))
    : 0;
  const copperJ = phaseA * phaseA * windingOhm * stepS;
  const meanMotorRadPerS = motorRadPerS === 0 ? 0 : motorRadPerS * (meanMps / Math.max(speedMps, 1e-12));
  const shaftJ = isDriving ? motorJ / efficiency : 0;
  const ironJ = ironNm * (isDriving ? meanMotorRadPerS : forcePerTorque * meanMps) * stepS;
  const drivetrainJ = isDriving ? shaftJ - motorJ : 0;
  const controllerJ = controller.idleW * stepS;
  const terminalJ = (isDriving ? shaftJ + copperJ + ironJ : 0) + controllerJ - regeneratedJ;
  const terminalW = terminalJ / stepS;
  const currentA =
    (openCircuitV - Math.sqrt(Math.max(0, openCircuitV * openCircuitV - 4 * packOhm * terminalW))) / (2 * packOhm);
  return {
    copperJ,
    ironJ,
    drivetrainJ,
    controllerJ,
    regeneratedJ,
    terminalJ,
    currentA,
    voltageV: openCircuitV - packOhm * currentA,
  };
}
