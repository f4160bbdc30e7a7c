import { z } from 'zod';
import { convertUnit, convertUnitDifference, displayUnit, isUnitName, type UnitSystem } from '@ebrix/core/units';
import { isFigureCriterion, weighForUse, type CriterionKey, type WeighedForUse } from '@ebrix/core/decision';
import { useInputSchema, type UseDto, type UseInput, type WeighUp, type WeighUpRequest } from '@ebrix/contract';
import { decimalsFor, formatQuantity, plain, unitText } from '../../shared/format/format-quantity.js';

export type DraftUse = UseInput;
export type DraftCriterion = DraftUse['criteria'][number];
export type DraftMustHave = DraftUse['mustHaves'][number];

/** What a new use begins with: figures that most rides give, and what is known of any setup. */
export const NEW_USE: DraftUse = {
  name: '',
  notes: '',
  criteria: [
    { key: 'netConsumption', weight: 3, worth: null },
    { key: 'cost', weight: 3, worth: null },
    { key: 'addedMass', weight: 1, worth: null },
  ],
  mustHaves: [],
};

export function draftOf({ name, notes, criteria, mustHaves }: UseDto): DraftUse {
  return { name, notes, criteria, mustHaves };
}

/** A draft with the version it began from: another window may have saved meanwhile, and that has to be seen. */
export interface KeptUse {
  readonly version: number;
  readonly draft: DraftUse;
}
const keptSchema = z.strictObject({
  version: z.int(),
  // A name may still be missing.
  draft: z.strictObject({ ...useInputSchema.shape, name: z.string() }),
});
export function readKeptUse(stored: unknown): KeptUse | undefined {
  return keptSchema.safeParse(stored).data;
}

/** What the server is asked: which standings are needed. Weights, corners and bounds are worked in here, so that they can move. */
export function askFor({ criteria, mustHaves }: DraftUse, revisionIds: readonly string[]): WeighUpRequest {
  return {
    use: {
      criteria: criteria.map(({ key }) => ({ key, weight: 0, worth: null })),
      mustHaves: mustHaves.map(({ key, courseId }) => ({ key, courseId, atLeast: null, atMost: 1e12 })),
    },
    revisionIds,
  };
}

/** Weighed with the weights, corners and bounds as they stand on the page. */
export function weighHere(draft: DraftUse, answer: WeighUp, draws?: number): WeighedForUse {
  const worthOf = new Map(answer.criteria.map(({ key, worth }) => [key, worth]));
  const labelOf = new Map(answer.criteria.map(({ key, label }) => [key, label]));
  return weighForUse(
    {
      criteria: draft.criteria.flatMap(({ key, weight, worth }) => {
        const points = worth ?? worthOf.get(key);
        return points ? [{ key, label: labelOf.get(key) ?? key, weight, worth: { points } }] : [];
      }),
      mustHaves: draft.mustHaves.flatMap(({ key, courseId, atLeast, atMost }) => {
        const ownKey = boundKey(key, courseId);
        const bound = answer.mustHaves.find((one) => one.key === ownKey);
        if (!bound || (atLeast === null && atMost === null)) return [];
        return [
          {
            key: bound.key,
            label: bound.label,
            ...(atLeast !== null && { atLeast }),
            ...(atMost !== null && { atMost }),
          },
        ];
      }),
    },
    answer.setups.map(({ name, standings }) => ({
      name,
      standings: Object.fromEntries(
        Object.entries(standings).map(([key, one]) => [
          key,
          {
            value: one.value,
            standardUncertainty: one.standardUncertainty,
            ...(one.sharedUncertainty !== undefined && { sharedUncertainty: one.sharedUncertainty }),
            ...(one.sources !== undefined && { sources: one.sources }),
            ...(one.degreesOfFreedom !== undefined && { degreesOfFreedom: one.degreesOfFreedom }),
            ...(one.n !== undefined && { n: one.n }),
          },
        ]),
      ),
    })),
    undefined,
    draws,
  );
}

/** As the server names a bound: one on a course of its own apart from the others. */
export function boundKey(key: CriterionKey, courseId: string | null): string {
  return courseId !== null && isFigureCriterion(key) ? `${key}@${courseId}` : key;
}

/** How a criterion's numbers are shown and typed: in the person's units where they have one, else as they are. */
export interface Scale {
  readonly unit: string;
  readonly toShown: (value: number) => number;
  readonly fromShown: (value: number) => number;
  readonly text: (value: number) => string;
  readonly withDoubt: (value: number, standardUncertainty: number) => string;
}
export function scaleOf(unit: string, system: UnitSystem, currency: string): Scale {
  if (isUnitName(unit)) {
    const shown = displayUnit(unit, system);
    const words = unitText(shown);
    return {
      unit: words,
      toShown: (value) => convertUnit(value, unit, shown),
      fromShown: (value) => convertUnit(value, shown, unit),
      text: (value) => formatQuantity(value, unit, system),
      withDoubt: (value, u) => {
        const doubt = Math.abs(convertUnitDifference(u, unit, shown));
        return `${withDecimals(convertUnit(value, unit, shown), doubt)} ${words}`.trim();
      },
    };
  }
  const words = unit === 'money' ? currency : unit === 'hours' ? 'h' : '';
  return {
    unit: words,
    toShown: (value) => value,
    fromShown: (value) => value,
    text: (value) => `${plain(value, 4)} ${words}`.trim(),
    withDoubt: (value, u) => `${withDecimals(value, u)} ${words}`.trim(),
  };
}

function withDecimals(value: number, doubt: number): string {
  if (doubt === 0) return plain(value, 4);
  const decimals = decimalsFor(doubt);
  return `${value.toFixed(decimals)} ± ${doubt.toFixed(decimals)}`;
}

/** Shares as one says them. */
export function inHundred(share: number): string {
  const whole = Math.round(100 * share);
  if (whole === 100 && share < 1) return '> 99';
  return whole === 0 && share > 0 ? '< 1' : String(whole);
}
