import type { Parameters } from './parameters.js';

/** Winding (where a sensor sits) and body of a motor, °C. */
export interface HeatState {
  sensorC: number;
  bodyC: number;
}
export type ControllerHeat = Pick<
  Parameters,
  'controllerByPull' | 'controllerByPower' | 'controllerSeconds' | 'controllerWind'
>;
export type HeatParameters = Pick<
  Parameters,
  'sensorHeat' | 'bodyHeat' | 'sensorToBody' | 'toStillAir' | 'toMovingAir'
>;

/** Of the drag inside the motor, what warms its body. */
const IRON_SHARE = 0.6;

/**
 * Two nodes, `stepS` on, in place: copper warms the winding, the winding and the iron the body, moving air cools it.
 * Units: W, m/s, °C, s. Semi-implicit, so that long steps stay stable. Source: lumped thermal network with forced convection
 * linear in the speed.
 */
export function warmNodes(
  state: HeatState,
  heat: HeatParameters,
  copperW: number,
  ironW: number,
  speedMps: number,
  airC: number,
  stepS: number,
): void {
  const between = heat.sensorToBody;
  const toAir = heat.toStillAir + heat.toMovingAir * speedMps;
  const [cs, cb] = [heat.sensorHeat / stepS, heat.bodyHeat / stepS];
  // (cs + g)·s − g·b = cs·s₀ + P;  −g·s + (cb + g + h)·b = cb·b₀ + Pi + h·air
  const a = cs + between;
  const d = cb + between + toAir;
  const right = cs * state.sensorC + copperW;
  const below = cb * state.bodyC + IRON_SHARE * ironW + toAir * airC;
  const determinant = a * d - between * between;
  state.sensorC = (right * d + between * below) / determinant;
  state.bodyC = (a * below + between * right) / determinant;
}

/**
 * A controller's case `stepS` on, °C: one node that the currents of motor (as its pull squared) and battery warm and moving air cools.
 * Source: lumped node, τ·T' = (what it would rise standing) − (1 + c·v)·(T − air); semi-implicit.
 */
export function warmController(
  caseC: number,
  heat: ControllerHeat,
  pullN: number,
  powerW: number,
  speedMps: number,
  airC: number,
  stepS: number,
): number {
  const rise = heat.controllerByPull * pullN * pullN + heat.controllerByPower * powerW;
  const cooling = 1 + heat.controllerWind * speedMps;
  const part = stepS / heat.controllerSeconds;
  return (caseC + part * (rise + cooling * airC)) / (1 + part * cooling);
}
