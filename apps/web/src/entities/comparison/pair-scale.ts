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

/**
 * Pairs on one scale: per cent of the other setup, or the figure's own unit in the person's choice; each in the direction and
 * on the base of its sentence, the better against the other. Pairs that cannot be compared have no strip.
 */
export function stripsOf(
  comparison: ComparisonDto,
  scale: PairScale,
  unit: UnitName | undefined,
  system: UnitSystem,
): PairStrip[] {
  const { kind, value } = comparison.smallestDifference;
  const meanOf = new Map(comparison.setups.map(({ name, mean }) => [name, mean]));
  const convert = (v: number): number => (unit ? convertUnitDifference(v, unit, displayUnit(unit, system)) : v);
  return comparison.pairs.flatMap((pair): PairStrip[] => {
    const { a, b, verdict, ratio, difference } = pair;
    if (!difference) return [];
    const isTurned = saysSecondFirst(pair, comparison);
    const names = isTurned ? { a: b, b: a, verdict } : { a, b, verdict };
    const mean = Math.abs(meanOf.get(b) ?? NaN);
    if (scale === 'percent') {
      if (!ratio) return [];
      const share = kind === 'relative' ? value : value / mean;
      const turn = (r: number): number => 100 * ((isTurned ? 1 / r : r) - 1);
      const [low, high] = sorted(turn(ratio.lower), turn(ratio.upper));
      // A difference of a whole setup or more has no counterpart below it.
      const band = sorted(turn(1 - Math.min(share, 0.999)), turn(1 + share));
      return [{ ...names, estimate: turn(ratio.estimate), lower: low, upper: high, band }];
    }
    const turn = (d: number): number => (isTurned ? -convert(d) : convert(d));
    const band = convert(kind === 'absolute' ? value : value * mean);
    const [lower, upper] = sorted(turn(difference.lower), turn(difference.upper));
    return [{ ...names, estimate: turn(difference.estimate), lower, upper, band: [-band, band] }];
  });
}

function saysSecondFirst({ verdict, difference, ratio }: PairDto, comparison: ComparisonDto): boolean {
  if (!verdict.startsWith('better')) return false;
  const isRatio = comparison.smallestDifference.kind === 'relative' && ratio !== undefined;
  const aIsLess = isRatio ? ratio.estimate < 1 : difference!.estimate < 0;
  return aIsLess !== (comparison.better === 'less');
}

function sorted(a: number, b: number): readonly [number, number] {
  return a < b ? [a, b] : [b, a];
}

/** What the row of a pair says beside its strip. */
export const VERDICT_LABELS: Readonly<Record<PairDto['verdict'], string>> = {
  'better-and-matters': 'differs, and it matters',
  'better-may-not-matter': 'differs, may not matter',
  'no-difference-that-matters': 'no difference that matters',
  'cannot-tell': 'cannot tell yet',
};
