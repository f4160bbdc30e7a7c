import { welchRatioInterval } from '../statistics/index.js';

export interface DatedValue {
  readonly date: string;
  readonly value: number;
}
export interface YearOnYear {
  readonly before: number;
  readonly after: number;
  /** Later ÷ earlier. */
  readonly ratio: number;
  readonly interval95: readonly [number, number];
  readonly verdict: 'as-before' | 'cannot-tell' | 'less' | 'more';
}

/** Changes smaller than this share are no change in use. */
const MATTERS = 0.1;

/**
 * Whether one year's values repeat those of the year before: ratio of means with Welch's interval on logarithms, of the last two years with two
 * values each. Values > 0, of one figure, ridden alike on one course. Undefined: no two such years.
 */
export function yearOnYear(values: readonly DatedValue[]): YearOnYear | undefined {
  const years = new Map<number, number[]>();
  for (const { date, value } of values) {
    const year = Number(date.slice(0, 4));
    years.set(year, [...(years.get(year) ?? []), value]);
  }
  const enough = [...years].filter(([, own]) => own.length >= 2).sort(([a], [b]) => a - b);
  const [earlier, later] = enough.slice(-2);
  if (!earlier || !later) return undefined;
  const found = welchRatioInterval(later[1], earlier[1], 0.95);
  if (!found.ok) return undefined;
  const { ratio, lower, upper } = found.value;
  const isSmall = lower > 1 - MATTERS && upper < 1 + MATTERS;
  return {
    before: earlier[0],
    after: later[0],
    ratio,
    interval95: [lower, upper],
    verdict: isSmall ? 'as-before' : lower > 1 ? 'more' : upper < 1 ? 'less' : 'cannot-tell',
  };
}
