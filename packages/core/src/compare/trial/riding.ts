import type { Effort } from '../../ride-model/index.js';

/** How a run was ridden, as far as it was written down. */
export interface Riding {
  readonly way: Effort | null;
  /** Name of the assist level held; empty: not said. */
  readonly level: string;
  /** The gear kept, or "one gear"; empty: not said. */
  readonly gear: string;
  /** Load beside the rider, kg. */
  readonly payloadKg: number | null;
  /** As legal, or opened on private ground. */
  readonly limitMode: 'legal' | 'opened' | null;
  readonly laps: number | null;
}
export type RidingField = keyof Riding;
/** What an arm of a trial is ridden like, or what a trial holds equal: null or empty is left open. */
export type FixedRiding = Riding;

export const RIDING_FIELDS = ['way', 'level', 'gear', 'payloadKg', 'limitMode', 'laps'] as const;
export const RIDING_WORDS: Readonly<Record<RidingField, string>> = {
  way: 'way of riding',
  level: 'assist level',
  gear: 'gear',
  payloadKg: 'payload',
  limitMode: 'speed limit mode',
  laps: 'laps',
};
export const OPEN_RIDING: Riding = { way: null, level: '', gear: '', payloadKg: null, limitMode: null, laps: null };

/** Loads nearer than this are one load. */
const PAYLOAD_TOLERANCE_KG = 1;

export function isSaid(value: Riding[RidingField]): boolean {
  return value !== null && value !== '';
}

export function isAlike(field: RidingField, a: Riding[RidingField], b: Riding[RidingField]): boolean {
  if (field === 'payloadKg') return Math.abs(Number(a) - Number(b)) <= PAYLOAD_TOLERANCE_KG;
  if (typeof a === 'string' && typeof b === 'string') return a.trim().toLowerCase() === b.trim().toLowerCase();
  return a === b;
}
