import type { Chemistry } from './usable-energy.js';

/** Cell voltage at rest for states of charge 0, 0.05, 0.1, 0.2 … 1; typical curves, not any maker's cell. */
const STATES = [0, 0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1];
const CURVES: Record<Chemistry, readonly number[]> = {
  'li-ion-nmc': [3.0, 3.32, 3.45, 3.55, 3.6, 3.64, 3.69, 3.77, 3.87, 3.97, 4.07, 4.18],
  'li-ion-lfp': [2.6, 3.02, 3.15, 3.22, 3.25, 3.27, 3.28, 3.29, 3.31, 3.32, 3.33, 3.42],
  'lead-acid': [1.93, 1.95, 1.97, 2.0, 2.02, 2.04, 2.055, 2.07, 2.085, 2.1, 2.115, 2.13],
};

/** Open-circuit voltage of one cell in V; the state of charge is held to 0–1. */
export function openCircuitVoltage(chemistry: Chemistry, stateOfCharge: number): number {
  const curve = CURVES[chemistry];
  const s = Math.min(1, Math.max(0, stateOfCharge));
  let k = 1;
  while (k < STATES.length - 1 && STATES[k]! < s) k++;
  const share = (s - STATES[k - 1]!) / (STATES[k]! - STATES[k - 1]!);
  return curve[k - 1]! + share * (curve[k]! - curve[k - 1]!);
}

/** Charge at which a rested cell has this voltage: the inverse of `openCircuitVoltage`, 0…1. Units: V of one cell. */
export function chargeAtRest(chemistry: Chemistry, cellV: number): number {
  let low = 0;
  let high = 1;
  if (cellV <= openCircuitVoltage(chemistry, 0)) return 0;
  if (cellV >= openCircuitVoltage(chemistry, 1)) return 1;
  for (let k = 0; k < 40; k++) {
    const middle = (low + high) / 2;
    if (openCircuitVoltage(chemistry, middle) < cellV) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/**
 * Share of a cell's energy that is left at a state of charge, 0…1: ∫ V dq from empty, over the whole. More than the charge's own share
 * is used up in the upper half, where the volts are higher.
 */
export function energyShareAt(chemistry: Chemistry, stateOfCharge: number): number {
  const curve = CURVES[chemistry];
  const s = Math.min(1, Math.max(0, stateOfCharge));
  let [below, whole] = [0, 0];
  for (let k = 1; k < STATES.length; k++) {
    const [from, to] = [STATES[k - 1]!, STATES[k]!];
    const upTo = Math.min(s, to);
    if (upTo > from) below += ((curve[k - 1]! + openCircuitVoltage(chemistry, upTo)) / 2) * (upTo - from);
    whole += ((curve[k - 1]! + curve[k]!) / 2) * (to - from);
  }
  return below / whole;
}
