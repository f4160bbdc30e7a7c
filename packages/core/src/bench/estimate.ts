import type { UnitName } from '../units/index.js';

/** A figure from theory or a rule of thumb, before anything was measured: a value with the span it may lie in. */
export interface Estimate {
  readonly value: number;
  readonly lower: number;
  readonly upper: number;
  readonly unit: UnitName;
  readonly basis: string;
}
export type EstimateOrReason = Estimate | { readonly missing: readonly string[] };

export function isEstimate(one: EstimateOrReason): one is Estimate {
  return 'value' in one;
}

/** `share`: half-width of the span relative to the value. */
export function estimate(value: number, share: number, unit: UnitName, basis: string): Estimate {
  return { value, lower: value * (1 - share), upper: value * (1 + share), unit, basis };
}

/** The labels of what is not known among the named facts. */
export function missingOf(named: Readonly<Record<string, unknown>>): string[] {
  return Object.entries(named)
    .filter(([, value]) => value === null || value === undefined)
    .map(([label]) => label);
}
