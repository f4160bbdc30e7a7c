import { STANDARD_GRAVITY_MPS2 } from '../units/index.js';

/** What slows a bike beside its brakes. */
export interface RoadLoad {
  readonly totalMassKg: number;
  readonly dragAreaM2: number;
  readonly rollingResistanceCoefficient: number;
}

/** Air drag in N against the direction of travel; `headWindMps` is positive into the face. */
export function dragForceN(airDensity: number, dragAreaM2: number, speedMps: number, headWindMps: number): number {
  const airSpeed = speedMps + headWindMps;
  // v·|v|, not v²: when the tailwind is faster than the bike, the air pushes and the force changes sign.
  return 0.5 * airDensity * dragAreaM2 * airSpeed * Math.abs(airSpeed);
}

export function rollingForceN({ totalMassKg, rollingResistanceCoefficient }: RoadLoad, gradeFraction: number): number {
  return totalMassKg * STANDARD_GRAVITY_MPS2 * rollingResistanceCoefficient * Math.cos(Math.atan(gradeFraction));
}

/** Weight along the slope in N, positive uphill. */
export function gradeForceN(totalMassKg: number, gradeFraction: number): number {
  return totalMassKg * STANDARD_GRAVITY_MPS2 * Math.sin(Math.atan(gradeFraction));
}
