import type { ComparisonDto, PairDto } from '@ebrix/contract';
import { convertUnitDifference, displayUnit, type UnitName, type UnitSystem } from '@ebrix/core/units';

export type PairScale = 'percent' | 'unit';

export interface PairStrip {
  readonly a: string;
  readonly b: string;
  readonly verdict: PairDto['verdict'];
  readonly estimate: number;
  readonly lower: number;
  readonly upper: number;
  /** Differences within do not matter. */
  readonly band: readonly [number, number];
}

/** Pairs on one scale: per cent of the other setup, or the figure's own unit in the person's choice. */
export function stripsOf(
  comparison: ComparisonDto,
  scale: PairScale,
  unit: UnitName | undefined,
  system: UnitSystem,
): PairStrip[] {
  const { kind, value } = comparison.smallestDifference;
  const meanOf = new Map(comparison.setups.map(({ name, mean }) => [name, mean]));
  return comparison.pairs.flatMap((pair): PairStrip[] => {
    const { a, b, verdict, ratio, difference } = pair;
    const base = { a, b, verdict };
    const mean = Math.abs(meanOf.get(b) ?? NaN);
    if (scale === 'percent') {
      if (!ratio) return [];
      const band = 100 * (kind === 'relative' ? value : value / mean);
      return [
        {
          ...base,
          estimate: percent(ratio.estimate),
          lower: percent(ratio.lower),
          upper: percent(ratio.upper),
          band: [-band, band],
        },
      ];
    }
    const convert = (v: number): number => (unit ? convertUnitDifference(v, unit, displayUnit(unit, system)) : v);
    const band = convert(kind === 'absolute' ? value : value * mean);
    return [
      {
        ...base,
        estimate: convert(difference.estimate),
        lower: convert(difference.lower),
        upper: convert(difference.upper),
        band: [-band, band],
      },
    ];
  });
}

function percent(ratio: number): number {
  return 100 * (ratio - 1);
}

/** What the row of a pair says beside its strip. */
export const VERDICT_LABELS: Readonly<Record<PairDto['verdict'], string>> = {
  'better-and-matters': 'differs, and it matters',
  'better-may-not-matter': 'differs, may not matter',
  'no-difference-that-matters': 'no difference that matters',
  'cannot-tell': 'cannot tell yet',
};
