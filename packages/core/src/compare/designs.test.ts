import { readTable } from '../logs/index.js';
import { compareTable, type Comparison, type TableColumns } from './index.js';
import reference from './reference/designs.json' with { type: 'json' };

/** Answers of independent software on made-up trials of every design; where the file is from stands in its `note`. */
interface Case {
  readonly id: string;
  readonly design: string;
  readonly acceptDesign?: readonly string[];
  readonly estimatesOnly?: boolean;
  readonly fields: { readonly sdm: string; readonly better: string };
  readonly rows: Readonly<Record<string, readonly (number | string)[]>>;
  readonly pairs?: readonly ReferencePair[];
  readonly refusedPairs?: readonly (readonly [string, string])[];
  readonly adjustedMeans?: readonly { readonly setup: string; readonly mean: number; readonly se?: number }[];
  readonly residualSd?: number;
  readonly groupSd?: number;
  readonly slope?: number;
}
interface ReferencePair {
  readonly a: string;
  readonly b: string;
  readonly difference: ReferenceDifference;
  readonly ratio?: ReferenceRatio;
  readonly differenceByOutingMeans?: ReferenceDifference;
  readonly ratioByOutingMeans?: ReferenceRatio;
  readonly verdict: string;
  readonly moreRunsEachAbout?: readonly [number, number];
}
interface ReferenceDifference {
  readonly estimate: number;
  readonly se: number;
  readonly df: number;
  readonly ci95: readonly [number, number];
}
interface ReferenceRatio {
  readonly estimate: number;
  readonly ci95: readonly [number, number];
}
const cases = reference.cases as unknown as readonly Case[];

function compare({ rows, fields }: Case): Comparison {
  const columns = Object.keys(rows);
  const lines = rows['setup']!.map((_, k) => columns.map((column) => String(rows[column]![k])).join(','));
  const table = readTable(new TextEncoder().encode([columns.join(','), ...lines].join('\n')));
  if (!table.ok) throw new Error(table.problem.message);
  const number = Number.parseFloat(fields.sdm);
  return compareTable(
    table.value,
    Object.fromEntries(columns.map((column) => [column, column])) as unknown as TableColumns,
    {
      smallestDifference: fields.sdm.endsWith('%')
        ? { kind: 'relative', value: number / 100 }
        : { kind: 'absolute', value: number },
      better: fields.better as 'less' | 'more',
      seed: 1,
      resamples: 0,
    },
  ).comparison;
}

function expectClose(actual: number | undefined, expected: number, tolerance: number, scale = 0): void {
  expect(Math.abs(actual! - expected)).toBeLessThanOrEqual(tolerance * Math.max(Math.abs(expected), scale));
}

describe.each(cases.map((one): [string, Case] => [one.id, one]))('%s', (_id, one) => {
  const comparison = compare(one);
  const isRandom = ['mixed', 'nested', 'grouped'].includes(one.design);
  const tolerance = isRandom ? 1e-4 : 1e-6;
  const pairOf = (a: string, b: string) => comparison.pairs.find((pair) => pair.a === a && pair.b === b)!;

  it('is taken for what it is', () => expect(one.acceptDesign ?? [one.design]).toContain(comparison.design));

  for (const expected of one.pairs ?? [])
    it(`gives the independent answer for ${expected.a} − ${expected.b}`, () => {
      const { difference, ratio, verdict, moreRunsEach } = pairOf(expected.a, expected.b);
      // One run an outing: the t on outing means allows for unequal spread and will do as well.
      const isByMeans =
        expected.differenceByOutingMeans !== undefined &&
        Math.abs(difference!.degreesOfFreedom - expected.differenceByOutingMeans.df) < 1e-3;
      const wanted = isByMeans ? expected.differenceByOutingMeans : expected.difference;
      const wantedRatio = isByMeans ? expected.ratioByOutingMeans : expected.ratio;
      const width = wanted.ci95[1] - wanted.ci95[0];
      expectClose(difference!.estimate, wanted.estimate, 1e-6, width);
      if (wantedRatio) expectClose(ratio!.estimate, wantedRatio.estimate, 1e-6);
      expect(verdict).toBe(expected.verdict);
      if (one.estimatesOnly) return;
      expectClose(difference!.standardError, wanted.se, tolerance);
      expectClose(difference!.degreesOfFreedom, wanted.df, 1e-4);
      expectClose(difference!.lower, wanted.ci95[0], tolerance, width);
      expectClose(difference!.upper, wanted.ci95[1], tolerance, width);
      if (wantedRatio) {
        expectClose(ratio!.lower, wantedRatio.ci95[0], tolerance);
        expectClose(ratio!.upper, wantedRatio.ci95[1], tolerance);
      }
      if (expected.moreRunsEachAbout) {
        expect(moreRunsEach).toBeGreaterThanOrEqual(expected.moreRunsEachAbout[0] / 2);
        expect(moreRunsEach).toBeLessThanOrEqual(expected.moreRunsEachAbout[1] * 2);
      }
    });

  if (one.refusedPairs)
    it('refuses what cannot be told apart, without a number of further runs', () => {
      for (const [a, b] of one.refusedPairs!) {
        const pair = pairOf(a, b);
        expect(pair).toMatchObject({ verdict: 'cannot-tell', refusal: expect.anything() });
        expect(pair.more).toBeUndefined();
        expect(pair.difference).toBeUndefined();
      }
    });

  if (one.pairs && one.pairs.length > 0)
    it('finds the model beside the pairs', () => {
      const { adjustedMeans, residualSd, groupSd, slope } = comparison.model!;
      for (const { setup, mean, se } of one.adjustedMeans ?? []) {
        const own = adjustedMeans.find((row) => row.setup === setup)!;
        expectClose(own.mean, mean, 1e-6);
        if (se !== undefined && !one.estimatesOnly) expectClose(own.standardError, se, 1e-4);
      }
      if (one.residualSd !== undefined) expectClose(residualSd, one.residualSd, 1e-5);
      if (one.groupSd !== undefined) expectClose(groupSd, one.groupSd, 1e-5, 1e-3);
      if (one.slope !== undefined) expectClose(slope!.estimate, one.slope, 1e-6);
    });
});
