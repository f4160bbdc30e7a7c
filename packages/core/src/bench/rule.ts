import type { ConvertedSetup } from './facts.js';
import { say, type Sentence } from '../units/index.js';
import type { Usual } from './usual.js';

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
  /** Passes with what is usual for parts of its kind: `taken` says what was taken, `needs` what to measure. */
  | {
      readonly state: 'likely';
      readonly arithmetic: Sentence;
      readonly taken: readonly string[];
      readonly needs: readonly Need[];
    }
  | { readonly state: 'needs'; readonly needs: readonly Need[] };

export interface Rule {
  /** Stable: waivers refer to it. */
  readonly id: string;
  readonly title: string;
  readonly group: CheckGroup;
  readonly severity: Severity;
  /** What the rule goes by, and where its limit comes from. */
  readonly basis: string;
  readonly applies: (setup: ConvertedSetup) => boolean;
  readonly assess: (setup: ConvertedSetup) => Assessment;
}

export interface Wanted<T> {
  readonly value: T | null | undefined;
  readonly need: Need;
  /** What most parts of the kind have, to go by until it is known. */
  readonly usual?: Usual<NonNullable<T>> | null;
}
type Known<W extends Record<string, Wanted<unknown>>> = {
  readonly [K in keyof W]: W[K] extends Wanted<infer T> ? NonNullable<T> : never;
};

export function want<T>(
  owner: FactOwner,
  field: string,
  label: string,
  value: T | null | undefined,
  usual: Usual<NonNullable<T>> | null = null,
): Wanted<T> {
  return { value, need: { owner, field, label }, usual };
}

/**
 * Judges when all that is wanted is known; else says what is missing. The only way a rule gets at unknown facts. Where all that
 * is missing has a usual value, and passes with it, it likely passes; a usual value never fails anybody.
 */
export function withKnown<W extends Record<string, Wanted<unknown>>>(
  wanted: W,
  assess: (known: Known<W>) => Assessment,
): Assessment {
  const missing = Object.values(wanted).filter(({ value }) => value === null || value === undefined);
  const needs = missing.map(({ need }) => need);
  const values = Object.entries(wanted).map(([name, { value, usual }]) => [name, value ?? usual?.value] as const);
  if (missing.length === 0) return assess(Object.fromEntries(values) as Known<W>);
  if (missing.some(({ usual }) => !usual)) return { state: 'needs', needs };
  return likely(
    assess(Object.fromEntries(values) as Known<W>),
    missing.map(({ usual }) => usual!.why),
    needs,
  );
}

/** What passes with usual values likely passes; what does not has to be measured before it is judged. */
export function likely(assessment: Assessment, taken: readonly string[], needs: readonly Need[]): Assessment {
  const own = [...new Set(taken)];
  if (assessment.state === 'passed') return { state: 'likely', arithmetic: assessment.arithmetic, taken: own, needs };
  if (assessment.state === 'likely')
    return { ...assessment, taken: [...own, ...assessment.taken], needs: [...needs, ...assessment.needs] };
  return { state: 'needs', needs: assessment.state === 'needs' ? [...needs, ...assessment.needs] : needs };
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
