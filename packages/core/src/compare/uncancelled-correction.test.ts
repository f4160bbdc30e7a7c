import { seededRandom, standardNormal } from '../numeric/index.js';
import { compareSetups } from './index.js';
import { uncancelledCorrection } from './uncancelled-correction.js';

const run = (value: number, relativeEffect: number, id = 'drag area of one bike') => ({
  value,
  corrections: [{ id, relativeEffect }],
});

describe('what corrections add to a difference', () => {
  it('is nothing where both sides lean on the same bike alike', () =>
    expect(uncancelledCorrection([run(10, 0.03), run(11, 0.03)], [run(9, 0.03)])).toBe(0));
  it('is the difference of the shares where one side was corrected by more', () =>
    expect(uncancelledCorrection([run(10, 0.03)], [run(9, -0.01)])).toBeCloseTo(0.04, 12));
  it('adds in quadrature where each side has a bike of its own', () =>
    expect(uncancelledCorrection([run(10, 0.03, 'a')], [run(9, 0.04, 'b')])).toBeCloseTo(0.05, 12));
  it('is nothing for runs that were not corrected', () =>
    expect(uncancelledCorrection([{ value: 1 }], [{ value: 2 }])).toBe(0));
});

it('a drag area that was taken wrong for one bike is covered, where the scatter of the runs knows nothing of it', () => {
  const random = seededRandom(12);
  const trials = 400;
  const covered = { without: 0, within: 0 };
  for (let k = 0; k < trials; k++) {
    // Both setups are alike; A was ridden on a cold day and corrected by more, with a drag area that is 6 % off as often as not.
    const wrong = standardNormal(random);
    const shares = [0.05, 0.01];
    const setups = shares.map((share, s) => ({
      name: 'AB'[s]!,
      runs: Array.from({ length: 6 }, () => ({
        ...run(10 * (1 + share * wrong + 0.01 * standardNormal(random)), share),
      })),
    }));
    const interval = (corrected: boolean) =>
      compareSetups({
        setups: corrected ? setups : setups.map((own) => ({ ...own, runs: own.runs.map(({ value }) => ({ value })) })),
        smallestDifference: { kind: 'relative', value: 0.05 },
        words: { verb: 'uses', noun: 'energy', better: 'less' },
        unit: 'Wh/km',
        seed: 1,
        resamples: 0,
        isBrief: true,
      }).pairs[0]!.difference!;
    const holds = ({ lower, upper }: { lower: number; upper: number }): boolean => lower <= 0 && 0 <= upper;
    if (holds(interval(true))) covered.within++;
    if (holds(interval(false))) covered.without++;
  }
  expect(covered.without / trials).toBeLessThan(0.6);
  expect(covered.within / trials).toBeGreaterThan(0.92);
  expect(covered.within / trials).toBeLessThan(0.99);
});
