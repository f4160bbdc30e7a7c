import type { SetupFacts } from './facts.js';
import { say, type Sentence } from '../units/index.js';

/** `stop`: someone can be hurt or something burns. `caution`: it will not work well or not be lawful. `note`: worth knowing. */
export type Severity = 'stop' | 'caution' | 'note';
export type CheckGroup = 'fit' | 'load' | 'electrical' | 'packs' | 'law';
export type FactOwner = 'bike' | 'kit' | 'pack' | 'charger' | 'add-on' | 'limits' | 'settings' | 'fit';

/** Something a check cannot do without, and where to write it down. */
export interface Need {
  readonly owner: FactOwner;
  readonly field: string;
  readonly label: string;
}

export type Assessment =
  | { readonly state: 'passed'; readonly arithmetic: Sentence }
  | { readonly state: 'failed'; readonly arithmetic: Sentence; readonly remedy: Sentence }
  /** Not computable: a person looks and confirms in writing. */
  | { readonly state: 'by-hand'; readonly arithmetic: Sentence; readonly remedy: Sentence }
  | { readonly state: 'needs'; readonly needs: readonly Need[] };

export interface Rule {
  /** Stable: waivers refer to it. */
  readonly id: string;
  readonly title: string;
  readonly group: CheckGroup;
  readonly severity: Severity;
  /** What the rule goes by, and where its limit comes from. */
  readonly basis: string;
  readonly applies: (setup: SetupFacts) => boolean;
  readonly assess: (setup: SetupFacts) => Assessment;
}

export interface Wanted<T> {
  readonly value: T | null | undefined;
  readonly need: Need;
}
type Known<W extends Record<string, Wanted<unknown>>> = {
  readonly [K in keyof W]: W[K] extends Wanted<infer T> ? NonNullable<T> : never;
};

export function want<T>(owner: FactOwner, field: string, label: string, value: T | null | undefined): Wanted<T> {
  return { value, need: { owner, field, label } };
}

/** Judges when all that is wanted is known; else says what is missing. The only way a rule gets at unknown facts. */
export function withKnown<W extends Record<string, Wanted<unknown>>>(
  wanted: W,
  assess: (known: Known<W>) => Assessment,
): Assessment {
  const needs = Object.values(wanted)
    .filter(({ value }) => value === null || value === undefined)
    .map(({ need }) => need);
  if (needs.length > 0) return { state: 'needs', needs };
  return assess(Object.fromEntries(Object.entries(wanted).map(([name, { value }]) => [name, value])) as Known<W>);
}

export function verdict(isPassed: boolean, arithmetic: Sentence, remedy: Sentence = say``): Assessment {
  return isPassed ? { state: 'passed', arithmetic } : { state: 'failed', arithmetic, remedy };
}

/** Sums of decimals such as 4.1 + 3.7 must not fail a limit they meet exactly. */
const ROUNDING = 1e-9;
export function isAtMost(value: number, limit: number): boolean {
  return value <= limit + ROUNDING * Math.max(1, Math.abs(limit));
}
export function isAtLeast(value: number, limit: number): boolean {
  return isAtMost(limit, value);
}
