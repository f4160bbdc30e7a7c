import { pairsOf } from '../../statistics/index.js';
import type { KnownConfounding } from '../comparison.js';

/** What a run was ridden under, as far as it is known; keys are those of `FACTORS` and `CONDITIONS`. */
export interface RunConditions {
  readonly factors: Readonly<Partial<Record<FactorKey, string>>>;
  readonly conditions: Readonly<Partial<Record<ConditionKey, number>>>;
}
export type FactorKey = 'bike' | 'direction' | 'rider';
export type ConditionKey = 'airTemperature' | 'load' | 'meanSpeed' | 'startCharge' | 'tyrePressure' | 'wind';

const FACTORS: Readonly<Record<FactorKey, { readonly own: string; readonly what: string; readonly mend: string }>> = {
  rider: { own: 'a rider of its own', what: 'the rider', mend: 'Let one rider ride both' },
  direction: { own: 'a direction of its own', what: 'the direction', mend: 'Ride both in both directions' },
  bike: {
    own: 'a bike of its own',
    what: 'the bike',
    mend: 'Fit both to one bike, or say that whole bikes are compared',
  },
};
/** Two setups are apart in a condition when their ranges leave more than this between them. */
export const CONDITIONS: Readonly<
  Record<ConditionKey, { readonly label: string; readonly unit: string; readonly gap: number }>
> = {
  airTemperature: { label: 'air temperature', unit: '°C', gap: 2 },
  wind: { label: 'wind', unit: 'm/s', gap: 1 },
  load: { label: 'load with the rider', unit: 'kg', gap: 3 },
  startCharge: { label: 'charge at the start', unit: '%', gap: 5 },
  meanSpeed: { label: 'mean speed', unit: 'km/h', gap: 1 },
  tyrePressure: { label: 'tyre pressure', unit: 'bar', gap: 0.3 },
};

export type NamedConfounding = KnownConfounding & { readonly key: ConditionKey | FactorKey };

/**
 * Pairs of setups that something beside the outing keeps apart: each had its own rider, direction or bike, or was ridden in a
 * range of a condition that does not meet the other's. `meantToDiffer` names what the trial compares on purpose.
 * A condition counts only where every run of both knows it.
 */
export function findConfounding(
  setups: readonly { readonly name: string; readonly runs: readonly RunConditions[] }[],
  meantToDiffer: readonly string[],
): NamedConfounding[] {
  return pairsOf(setups.length).flatMap(([i, j]): NamedConfounding[] => {
    const [a, b] = [setups[i]!, setups[j]!];
    if (a.runs.length === 0 || b.runs.length === 0) return [];
    const names = { a: a.name, b: b.name };
    for (const key of Object.keys(FACTORS) as FactorKey[])
      if (!meantToDiffer.includes(key) && keepsApart(a.runs, b.runs, key)) {
        const { own, what, mend } = FACTORS[key];
        return [
          {
            ...names,
            key,
            because: `each had ${own}, so ${what} and the setup cannot be told apart`,
            mend: `${mend}; more runs of the same kind would not settle it.`,
          },
        ];
      }
    for (const key of Object.keys(CONDITIONS) as ConditionKey[]) {
      const ranges = meantToDiffer.includes(key) ? undefined : rangesApart(a.runs, b.runs, key);
      if (!ranges) continue;
      const { label, unit } = CONDITIONS[key];
      const text = (range: readonly [number, number]): string =>
        range[0] === range[1] ? `${round(range[0])} ${unit}` : `${round(range[0])} to ${round(range[1])} ${unit}`;
      return [
        {
          ...names,
          key,
          because: `they were ridden at another ${label} (${a.name} ${text(ranges[0])}, ${b.name} ${text(ranges[1])}), so that and the setup cannot be told apart`,
          mend: `Ride both at the same ${label}; more runs of the same kind would not settle it.`,
        },
      ];
    }
    return [];
  });
}

/** Never a value in common, and one side has a single one: with several on both sides it is a matter of chance. */
function keepsApart(a: readonly RunConditions[], b: readonly RunConditions[], key: FactorKey): boolean {
  const [own, other] = [a, b].map((runs) => runs.map(({ factors }) => factors[key]));
  if (own!.includes(undefined) || other!.includes(undefined)) return false;
  const [setA, setB] = [new Set(own), new Set(other)];
  if ([...setA].some((value) => setB.has(value))) return false;
  return Math.min(setA.size, setB.size) === 1;
}

function rangesApart(
  a: readonly RunConditions[],
  b: readonly RunConditions[],
  key: ConditionKey,
): readonly [readonly [number, number], readonly [number, number]] | undefined {
  const [own, other] = [a, b].map((runs) => runs.flatMap(({ conditions }) => conditions[key] ?? []));
  if (own!.length < a.length || other!.length < b.length) return undefined;
  const range = (values: readonly number[]) => [Math.min(...values), Math.max(...values)] as const;
  const [rangeA, rangeB] = [range(own!), range(other!)];
  const gap = Math.max(rangeA[0] - rangeB[1], rangeB[0] - rangeA[1]);
  return gap > CONDITIONS[key].gap ? [rangeA, rangeB] : undefined;
}

/** Conditions that vary between the runs by more than their gap and are known for all: worth an adjusted answer beside. */
export function varyingConditions(
  runs: readonly RunConditions[],
  isUsable: (key: ConditionKey) => boolean,
): ConditionKey[] {
  return (Object.keys(CONDITIONS) as ConditionKey[]).filter((key) => {
    const values = runs.flatMap(({ conditions }) => conditions[key] ?? []);
    if (!isUsable(key) || values.length < runs.length || values.length < 4) return false;
    return Math.max(...values) - Math.min(...values) > CONDITIONS[key].gap;
  });
}

function round(value: number): number {
  return Number(value.toPrecision(3));
}
