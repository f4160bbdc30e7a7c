import { CoreError } from '../errors/index.js';
import { compareSetups } from './compare-setups.js';
import type { ComparedRun, PairComparison } from './comparison.js';
import type { FigureVocabulary } from './figure-vocabulary.js';
import { fitRandomIntercept, studentTQuantile, summarizeSample, type Interval } from '../statistics/index.js';
import type { UnitName } from '../units/index.js';

/** One run of a setup on a course, and when and under what it was ridden. */
export interface DatedRun {
  readonly value: number;
  readonly outing: string;
  /** ISO day. */
  readonly date: string;
  readonly airTemperatureC: number | null;
}
export interface GroupOfRuns {
  readonly name: string;
  readonly runs: number;
  readonly outings: number;
  readonly mean: number;
  /** 95 %, by outings where there are several; absent for a single run. */
  readonly interval?: Interval;
}
export interface OverTime {
  readonly byMonth: readonly GroupOfRuns[];
  readonly byTemperature: readonly GroupOfRuns[];
  /** Each year against the one before it. */
  readonly years: readonly { readonly year: string; readonly before: string; readonly pair: PairComparison }[];
}

/** Bands of air temperature, °C: what a pack and the air are known to answer to. */
const BANDS = [
  { name: 'below 5 °C', below: 5 },
  { name: '5 to 15 °C', below: 15 },
  { name: '15 to 25 °C', below: 25 },
  { name: '25 °C and above', below: Infinity },
] as const;
const CONFIDENCE = 0.95;

/**
 * The same figure by month and by air temperature, and whether each year repeats the one before: the outing is the unit.
 *
 * Shapes: runs of one setup, course, kind of test and way of riding, in one unit.
 * Method: mean of a group with outings as a random sample (REML, Satterthwaite), else t; years by `compareSetups` on their outings.
 */
export function figureOverTime(
  runs: readonly DatedRun[],
  about: { readonly words: FigureVocabulary; readonly unit: UnitName; readonly smallestShare: number },
): OverTime {
  const months = groupBy(runs, ({ date }) => date.slice(0, 7));
  const bands = groupBy(
    runs.filter(({ airTemperatureC }) => airTemperatureC !== null),
    ({ airTemperatureC }) => BANDS.find(({ below }) => airTemperatureC! < below)!.name,
  );
  return {
    byMonth: [...months].sort(([a], [b]) => a.localeCompare(b)).map(([name, own]) => describeGroup(name, own)),
    byTemperature: BANDS.flatMap(({ name }) => (bands.has(name) ? [describeGroup(name, bands.get(name)!)] : [])),
    years: yearsOf(runs, about),
  };
}

function groupBy(runs: readonly DatedRun[], nameOf: (run: DatedRun) => string): Map<string, DatedRun[]> {
  const groups = new Map<string, DatedRun[]>();
  for (const run of runs) groups.set(nameOf(run), [...(groups.get(nameOf(run)) ?? []), run]);
  return groups;
}

function describeGroup(name: string, runs: readonly DatedRun[]): GroupOfRuns {
  const outings = [...new Set(runs.map(({ outing }) => outing))];
  const values = runs.map(({ value }) => value);
  const { mean, variance, count } = summarizeSample(values);
  const base = { name, runs: count, outings: outings.length, mean };
  if (count < 2) return base;
  const fit =
    outings.length > 1 && outings.length < count
      ? fitRandomIntercept(
          values.map(() => [1]),
          values,
          runs.map(({ outing }) => outings.indexOf(outing)),
        )
      : undefined;
  const own = fit?.ok ? fit.value.combine([1]) : undefined;
  const centre = own?.estimate ?? mean;
  const standardError = own?.standardError ?? Math.sqrt(variance / count);
  const margin = studentTQuantile((1 + CONFIDENCE) / 2, own?.degreesOfFreedom ?? count - 1) * standardError;
  return { ...base, mean: centre, interval: { lower: centre - margin, upper: centre + margin } };
}

function yearsOf(
  runs: readonly DatedRun[],
  { words, unit, smallestShare }: Parameters<typeof figureOverTime>[1],
): OverTime['years'] {
  const years = [...groupBy(runs, ({ date }) => date.slice(0, 4))]
    .filter(([, own]) => own.length > 1)
    .sort(([a], [b]) => a.localeCompare(b));
  return years.slice(1).flatMap(([year, own], k) => {
    const [before, earlier] = years[k]!;
    const toRuns = (of: readonly DatedRun[]): ComparedRun[] =>
      of.map(({ value, outing }) => ({ value, block: outing }));
    try {
      const { pairs } = compareSetups({
        setups: [
          { name: year, runs: toRuns(own) },
          { name: before, runs: toRuns(earlier) },
        ],
        smallestDifference: { kind: 'relative', value: smallestShare },
        words,
        unit,
        seed: 1,
        resamples: 0,
        isBrief: true,
      });
      return [{ year, before, pair: pairs[0]! }];
    } catch (error) {
      // All runs of both years the same: nothing to judge chance by. Anything else is a mistake of ours.
      if (error instanceof CoreError && error.code === 'no-spread') return [];
      throw error;
    }
  });
}
