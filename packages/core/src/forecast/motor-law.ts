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
}

export function warmCopper(copperLoss: number, motorC: number): number {
  return Number.isNaN(motorC) ? copperLoss : copperLoss * (1 + COPPER_PER_K * (motorC - 25));
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
  return Math.max(0, losses.driveEfficiency * (pull - losses.ironDrag));
}

/** What the motor must pull for a force ≥ 0 at the tyre, N; none for none. */
export function pullOfForce(forceN: number, { driveEfficiency, ironDrag }: DriveLosses): number {
  return forceN <= 0 ? 0 : forceN / driveEfficiency + ironDrag;
}

/** Electrical power, W, for a pull in N at a speed in m/s; without pull only the electronics draw. */
export function powerOfPull(pullN: number, speedMps: number, idlePower: number, copperLoss: number): number {
  return pullN * speedMps + copperLoss * pullN * pullN + idlePower;
}
