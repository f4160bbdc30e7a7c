import type { Use, WeighedUp } from './weigh-up.js';

/** How far one weight may move, the others held, before another setup leads in the mean; `by` is who then does. */
export interface WeightRange {
  readonly key: string;
  readonly label: string;
  readonly weight: number;
  readonly low: number;
  readonly lowBy: string | null;
  readonly high: number;
  readonly highBy: string | null;
}

/**
 * For each weight the span within which the leading setup stays ahead of all others in mean worth: from the mean worths of the parts, in
 * which the lead is linear in every weight. `low` is 0 and `high` infinite where nothing turns the order.
 */
export function weightRanges({ criteria }: Use, { setups }: WeighedUp): WeightRange[] {
  const byMean = setups.toSorted((a, b) => b.worth.mean - a.worth.mean);
  const [leader, ...others] = byMean;
  const weighed = criteria.filter(({ key }) => leader?.parts[key] !== undefined);
  return weighed.map(({ key, label, weight }) => {
    let range: WeightRange = { key, label, weight, low: 0, lowBy: null, high: Infinity, highBy: null };
    for (const other of others) {
      const ahead = (of: string): number => leader!.parts[of]! - other.parts[of]!;
      const rest = weighed.reduce((sum, one) => sum + (one.key === key ? 0 : one.weight * ahead(one.key)), 0);
      const own = ahead(key);
      const turns = -rest / own;
      if (own > 0 && turns > range.low) range = { ...range, low: turns, lowBy: other.name };
      if (own < 0 && turns < range.high) range = { ...range, high: turns, highBy: other.name };
    }
    return range;
  });
}

/** A setup that another one is no worse than in any criterion, and better in at least one. */
export interface Dominated {
  readonly name: string;
  readonly by: string;
}
/** Setups that no weights can make the best, by their mean worths. */
export function dominatedSetups({ criteria }: Use, { setups }: WeighedUp): Dominated[] {
  const counts = criteria.filter(({ weight }) => weight > 0);
  return setups.flatMap(({ name, parts }) => {
    const by = setups.find(
      (other) =>
        other.name !== name &&
        counts.every(({ key }) => other.parts[key]! >= parts[key]!) &&
        counts.some(({ key }) => other.parts[key]! > parts[key]!),
    );
    return by ? [{ name, by: by.name }] : [];
  });
}
