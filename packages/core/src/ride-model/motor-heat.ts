import type { MotorModel } from './parameters.js';

export interface MotorHeat {
  readonly windingC: number;
  readonly bodyC: number;
}

/** Of the iron loss, what warms the motor; the rest leaves with the wheel's own air. */
export const IRON_SHARE = 0.5;

/**
 * A motor's temperatures one short step on: the copper loss warms the winding, the winding its body, the body the air. A
 * motor without a winding of its own in the model is one node, both of whose temperatures are the same.
 *
 * Units: J in this step, °C, s. Source: lumped thermal network, C·dT/dt = P − ΔT/R for each node.
 */
export function warmMotor(
  { heatCapacityJPerK, thermalResistanceKPerW, winding }: MotorModel,
  { windingC, bodyC }: MotorHeat,
  loss: { readonly copperJ: number; readonly ironJ: number },
  airC: number,
  stepS: number,
): MotorHeat {
  const toAirJ = ((bodyC - airC) / thermalResistanceKPerW) * stepS;
  const ironJ = IRON_SHARE * loss.ironJ;
  if (!winding) {
    const warmerC = bodyC + (loss.copperJ + ironJ - toAirJ) / heatCapacityJPerK;
    return { windingC: warmerC, bodyC: warmerC };
  }
  const toBodyJ = ((windingC - bodyC) / winding.thermalResistanceKPerW) * stepS;
  return {
    windingC: windingC + (loss.copperJ - toBodyJ) / winding.heatCapacityJPerK,
    bodyC: bodyC + (ironJ + toBodyJ - toAirJ) / heatCapacityJPerK,
  };
}

/** The slowest pace at which such a motor cools, s: the smaller eigenvalue of the two nodes, or R·C of one. */
export function slowTimeConstantS({ heatCapacityJPerK, thermalResistanceKPerW, winding }: MotorModel): number {
  if (!winding) return heatCapacityJPerK * thermalResistanceKPerW;
  const fromWinding = 1 / (winding.thermalResistanceKPerW * winding.heatCapacityJPerK);
  const intoBody = 1 / (winding.thermalResistanceKPerW * heatCapacityJPerK);
  const toAir = 1 / (thermalResistanceKPerW * heatCapacityJPerK);
  const sum = fromWinding + intoBody + toAir;
  return 2 / (sum - Math.sqrt(sum * sum - 4 * fromWinding * toAir));
}

/** Winding and body above the air once steady losses have settled, K. Losses in W. */
export function settledHeatK(
  { thermalResistanceKPerW, winding }: MotorModel,
  copperW: number,
  ironW: number,
): { windingK: number; bodyK: number } {
  const bodyK = (copperW + IRON_SHARE * ironW) * thermalResistanceKPerW;
  return { bodyK, windingK: bodyK + copperW * (winding?.thermalResistanceKPerW ?? 0) };
}
