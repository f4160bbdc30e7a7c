import fc from 'fast-check';
import { OPEN_RIDING } from '../compare/index.js';
import { seededRandom, standardNormal } from '../numeric/index.js';
import {
  CRITERION_KEYS,
  criterionWords,
  figureStandings,
  usualWorth,
  valueFunctionProblem,
  worthOf,
  type StandingRun,
} from './index.js';

const run = (setup: number, value: number, more: Partial<StandingRun> = {}): StandingRun => ({
  setup,
  kind: 'range',
  course: 'level',
  riding: OPEN_RIDING,
  value,
  standardUncertainty: 0.1,
  systematic: 0,
  loggerId: 'one',
  ...more,
});

describe('how setups stand in a figure', () => {
  it('are means with the pooled scatter: 10, 12 and 20, 22, 24 by hand', () => {
    const found = figureStandings([run(0, 10), run(0, 12), run(1, 20), run(1, 22), run(1, 24)], 2)!;
    // Relative squares: 2 · (1/11)² + 2 · (2/22)² over 3 degrees of freedom.
    const scatter = Math.sqrt((4 * (1 / 11) ** 2) / 3);
    expect(found.standings[0]).toMatchObject({ value: 11, degreesOfFreedom: 3, n: 2, sharedUncertainty: 0 });
    expect(found.standings[0]!.standardUncertainty).toBeCloseTo((11 * scatter) / Math.SQRT2, 12);
    expect(found.standings[1]!.standardUncertainty).toBeCloseTo((22 * scatter) / Math.sqrt(3), 12);
    expect(found).toMatchObject({ runs: [2, 3], isScatterUsual: false });
  });
  it('are never taken over different courses, tests or ways of riding', () => {
    const found = figureStandings(
      [
        run(0, 10),
        run(0, 30, { course: 'hill' }),
        run(0, 31, { course: 'hill' }),
        run(1, 12),
        run(1, 8, { riding: { ...OPEN_RIDING, way: 'off' } }),
        run(1, 40, { kind: 'hill-climb', course: 'hill' }),
      ],
      2,
    )!;
    expect(found).toMatchObject({ course: 'level', kind: 'range', runs: [1, 1], isScatterUsual: true });
    expect(found.standings[0]!.standardUncertainty).toBeCloseTo(0.5, 12);
    expect(figureStandings([run(0, 10)], 1, 'hill')).toBeUndefined();
    expect(figureStandings([run(0, 10), run(1, 9, { course: 'hill' })], 2)!.standings.filter(Boolean)).toHaveLength(1);
  });
  it('an instrument of one logger shifts all, of several each', () => {
    const systematic = 0.3;
    const one = figureStandings([run(0, 10, { systematic }), run(1, 20, { systematic })], 2)!;
    expect(one.standings[0]!.sharedUncertainty).toBe(0.3);
    const two = figureStandings([run(0, 10, { systematic }), run(1, 20, { systematic, loggerId: 'two' })], 2)!;
    expect(two.standings[0]!.sharedUncertainty).toBeUndefined();
    expect(two.standings[0]!.standardUncertainty).toBeGreaterThan(0.3);
  });
  it('hold the true mean in about 95 of 100', () => {
    const random = seededRandom(5);
    let held = 0;
    const tries = 2000;
    for (let k = 0; k < tries; k++) {
      const runs = [0, 1].flatMap((setup) =>
        [0, 1, 2].map(() => run(setup, 10 * (setup + 1) * (1 + 0.04 * standardNormal(random)))),
      );
      const { value, standardUncertainty } = figureStandings(runs, 2)!.standings[1]!;
      // t with 4 degrees of freedom.
      if (Math.abs(value - 20) < 2.776 * standardUncertainty) held++;
    }
    expect(held / tries).toBeGreaterThan(0.93);
    expect(held / tries).toBeLessThan(0.985);
  });
});

describe('what a criterion is worth unless somebody says otherwise', () => {
  it('is drawn rightly for every one of them, better where it is better', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...CRITERION_KEYS),
        fc.array(fc.double({ min: 0.01, max: 5000, noNaN: true }), { minLength: 0, maxLength: 6 }),
        (key, values) => {
          const worth = usualWorth(
            key,
            values.map((value) => ({ value, standardUncertainty: 0 })),
          );
          expect(valueFunctionProblem(worth)).toBeUndefined();
          const [low, high] = [worthOf(worth, -1e9), worthOf(worth, 1e9)];
          expect(criterionWords(key).better === 'more' ? high - low : low - high).toBe(1);
        },
      ),
    );
  });
});
