/** Copper's change of resistance, 1/K, from 25 °C. */
const COPPER_PER_K = 0.00393;

/**
 * Losses of a drive between the battery's terminals and the tyre. The motor pulls T, of which the drag inside it takes its part and the
 * gears theirs: F = η·(T − iron); the current for T costs P = T·v + k·T² + idle. All at the tyre.
 * Source: direct-current machine, P = R·I² + k·ω·I.
 */
export interface DriveLosses {
  readonly driveEfficiency: number;
  readonly copperLoss: number;
  readonly ironDrag: number;
  readonly idlePower: number;
  /** Drives through the bike's gears: its own speed hardly changes, so that its pull at the tyre costs less the slower the bike goes. */
  readonly isGeared: boolean;
  /** Has no freewheel: its inner drag holds the bike back when it is off, too. */
  readonly isAlwaysTurning: boolean;
}

/** A motor behind gears is stated at this speed, and gears reach from the slowest to the fastest, m/s. */
const GEARED_AT_MPS = 5;
const SLOWEST_GEAR_MPS = 2;
const FASTEST_GEAR_MPS = 9;

/** W/N² at the tyre of a motor at a temperature in °C (NaN: not known) and a speed of the bike in m/s. */
export function copperAt(
  losses: Pick<DriveLosses, 'copperLoss' | 'isGeared'>,
  speedMps: number,
  motorC: number,
): number {
  const warm = Number.isNaN(motorC) ? losses.copperLoss : losses.copperLoss * (1 + COPPER_PER_K * (motorC - 25));
  if (!losses.isGeared) return warm;
  const by = Math.min(FASTEST_GEAR_MPS, Math.max(SLOWEST_GEAR_MPS, speedMps)) / GEARED_AT_MPS;
  return warm * by * by;
}

/** What the motor pulls, N at the tyre before its own losses, out of electrical power in W at a speed in m/s. */
export function pullOfPower(powerW: number, speedMps: number, idlePower: number, copperLoss: number): number {
  const left = powerW - idlePower;
  return left > 0 ? (Math.sqrt(speedMps * speedMps + 4 * copperLoss * left) - speedMps) / (2 * copperLoss) : 0;
}

/** Force at the tyre, N, out of electrical power in W. What regenerates brakes; what only feeds the electronics gives none. */
export function forceOfPower(powerW: number, speedMps: number, losses: DriveLosses, copperLoss: number): number {
  if (powerW < 0) return (powerW - losses.idlePower) / losses.driveEfficiency / Math.max(1, speedMps);
  const pull = pullOfPower(powerW, speedMps, losses.idlePower, copperLoss);
  if (pull <= losses.ironDrag) return losses.isAlwaysTurning ? pull - losses.ironDrag : 0;
  return losses.driveEfficiency * (pull - losses.ironDrag);
}

/** What the motor must pull for a force ≥ 0 at the tyre, N; none for none. */
export function pullOfForce(forceN: number, { driveEfficiency, ironDrag }: DriveLosses): number {
  return forceN <= 0 ? 0 : forceN / driveEfficiency + ironDrag;
}

/** Electrical power, W, for a pull in N at a speed in m/s; without pull only the electronics draw. */
export function powerOfPull(pullN: number, speedMps: number, idlePower: number, copperLoss: number): number {
  return pullN * speedMps + copperLoss * pullN * pullN + idlePower;
}
