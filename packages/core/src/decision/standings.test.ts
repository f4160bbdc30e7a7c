import fc from 'fast-check';
import { OPEN_RIDING } from '../compare/index.js';
import { seededRandom, standardNormal, type Random } from '../numeric/index.js';
import {
  CRITERION_KEYS,
  criterionWords,
  figureStandings,
  straightWorth,
  usualWorth,
  valueFunctionProblem,
  weighUp,
  worthOf,
  type StandingRun,
} from './index.js';

const KEY = 'netConsumption';
const run = (setup: number, value: number, more: Partial<StandingRun> = {}): StandingRun => ({
  setup,
  kind: 'range',
  course: 'level',
  outing: 'one day',
  riding: OPEN_RIDING,
  value,
  standardUncertainty: 0.001 * value,
  systematic: 0,
  loggerId: 'one',
  ...more,
});

describe('how setups stand in a figure', () => {
  it('on one shared day are told apart by their runs: means of logarithms, the pooled scatter by hand', () => {
    const [a, b] = [
      [10, 12],
      [20, 22, 24],
    ];
    const { standings, runs, isDayBetween, usualScatter } = figureStandings(
      KEY,
      [...a.map((v) => run(0, v)), ...b.map((v) => run(1, v))],
      2,
    )!;
    const logs = (values: number[]): number[] => values.map(Math.log);
    const middle = (values: number[]): number => logs(values).reduce((sum, v) => sum + v, 0) / values.length;
    const squares = (values: number[]): number => logs(values).reduce((sum, v) => sum + (v - middle(values)) ** 2, 0);
    const variance = (squares(a) + squares(b)) / 3;
    expect(standings.map((one) => one!.value)).toEqual([
      expect.closeTo(Math.sqrt(120), 9),
      expect.closeTo(Math.exp(middle(b)), 9),
    ]);
    // Of the difference the day is no part.
    const names = Object.keys(standings[0]!.sources!).filter((name) => name.startsWith('runs'));
    const part = (s: number, name: string): number => standings[s]!.sources![name]! / standings[s]!.value;
    const ofDifference = Math.hypot(...names.map((name) => part(0, name) - part(1, name)));
    expect(ofDifference).toBeCloseTo(Math.sqrt(variance * (1 / 2 + 1 / 3)), 9);
    // Of each alone it is: one day's usual 4 %.
    expect(Math.hypot(...names.map((name) => part(0, name)))).toBeCloseTo(Math.hypot(Math.sqrt(variance / 2), 0.04), 9);
    expect({ runs, isDayBetween, usualScatter }).toEqual({ runs: [2, 3], isDayBetween: false, usualScatter: null });
  });

  it('on days of their own are told apart no better than days are alike, and it is said', () => {
    const runs = [0, 1].flatMap((s) => [10, 10.1, 9.9].map((v) => run(s, v, { outing: `day ${s}` })));
    const { standings, isDayBetween } = figureStandings(KEY, runs, 2)!;
    expect(isDayBetween).toBe(true);
    const names = Object.keys(standings[0]!.sources!);
    const ofDifference = Math.hypot(
      ...names.map((name) => standings[0]!.sources![name]! - standings[1]!.sources![name]!),
    );
    expect(ofDifference / 10).toBeGreaterThan(0.04 * Math.SQRT2);
    const linked = [...runs, run(2, 12, { outing: 'day 0' }), run(2, 12.1, { outing: 'day 1' })];
    expect(figureStandings(KEY, linked, 3)!.isDayBetween).toBe(false);
  });

  it('are never taken over different courses, tests or ways of riding, nor from nothing', () => {
    const found = figureStandings(
      KEY,
      [
        run(0, 10),
        run(0, 30, { course: 'hill' }),
        run(0, 31, { course: 'hill' }),
        run(1, 12),
        run(1, -3),
        run(1, 8, { riding: { ...OPEN_RIDING, way: 'off' } }),
        run(1, 40, { kind: 'hill-climb', course: 'hill' }),
      ],
      2,
    )!;
    expect(found).toMatchObject({ course: 'level', kind: 'range', runs: [1, 1], usualScatter: 0.04 });
    expect(figureStandings(KEY, [run(0, 10)], 1, 'hill')).toBeUndefined();
    expect(figureStandings(KEY, [run(0, 0)], 1)).toBeUndefined();
    expect(
      figureStandings(KEY, [run(0, 10), run(1, 9, { course: 'hill' })], 2)!.standings.filter(Boolean),
    ).toHaveLength(1);
  });

  it('an instrument of one logger shifts all alike, of several each its own', () => {
    const with3 = { systematic: 0.3, standardUncertainty: 0.4 };
    const one = figureStandings(KEY, [run(0, 10, with3), run(1, 20, with3)], 2)!;
    expect(one.standings.map((s) => s!.sources!['logger one'])).toEqual([
      expect.closeTo(0.3, 9),
      expect.closeTo(0.3, 9),
    ]);
    const two = figureStandings(KEY, [run(0, 10, with3), run(1, 20, { ...with3, loggerId: null })], 2)!;
    expect(Object.keys(two.standings[1]!.sources!)).not.toContain('logger one');
    expect(two.standings[1]!.sharedUncertainty).toBeCloseTo(0.3, 9);
  });
});

/** Runs of setups by a law of their own: setup × day × run. */
function ride(
  random: Random,
  days: (setup: number) => number[],
  ofDay: number,
  ofRun: number,
  values = [10, 10],
): StandingRun[] {
  const shifts = Array.from({ length: 20 }, () => ofDay * standardNormal(random));
  return values.flatMap((value, s) =>
    days(s).map((day) =>
      run(s, value * Math.exp(shifts[day]! + ofRun * standardNormal(random)), { outing: `day ${day}` }),
    ),
  );
}

describe('on simulated rides', () => {
  const TRIES = 600;
  const use = { criteria: [{ key: 'x', label: 'X', weight: 1, worth: straightWorth(20, 0) }], mustHaves: [] };
  it.each([
    ['three runs on one day of their own', (s: number) => [s, s, s], 0.04],
    ['three runs on one day of their own, days of 2 %', (s: number) => [s, s, s], 0.02],
    ['two days of their own', (s: number) => [2 * s, 2 * s, 2 * s + 1, 2 * s + 1], 0.04],
    ['shared days', () => [0, 1, 2], 0.05],
    ['partly shared days', (s: number) => (s === 0 ? [0, 1, 2, 2, 3] : [0, 1]), 0.04],
  ])('setups that are alike are called different in no more than 5 of 100: %s', (_what, days, ofDay) => {
    const random = seededRandom(21);
    let sure = 0;
    for (let k = 0; k < TRIES; k++) {
      const { standings } = figureStandings(KEY, ride(random, days, ofDay, 0.015), 2)!;
      const weighed = weighUp(
        use,
        standings.map((x, s) => ({ name: String(s), standings: { x: x! } })),
        k,
        400,
      );
      if (Math.max(...weighed.setups.map(({ isBest }) => isBest)) > 0.975) sure++;
    }
    expect(sure / TRIES).toBeLessThan(0.065);
  });
  it('one that is 12 % better on shared days is seen', () => {
    const random = seededRandom(22);
    let seen = 0;
    for (let k = 0; k < 200; k++) {
      const { standings } = figureStandings(
        KEY,
        ride(random, () => [0, 1, 2], 0.05, 0.015, [10, 11.2]),
        2,
      )!;
      const weighed = weighUp(
        use,
        standings.map((x, s) => ({ name: String(s), standings: { x: x! } })),
        k,
        400,
      );
      if (weighed.setups[0]!.name === '0' && weighed.setups[0]!.isBest > 0.95) seen++;
    }
    expect(seen / 200).toBeGreaterThan(0.9);
  });
  it('a setup’s own value is held in 90 to 99 of 100', () => {
    const random = seededRandom(23);
    let held = 0;
    for (let k = 0; k < TRIES; k++) {
      const { value, standardUncertainty } = figureStandings(
        KEY,
        ride(random, () => [0, 0, 1, 1, 2], 0.04, 0.02),
        2,
      )!.standings[0]!;
      if (Math.abs(value - 10) < 2.3 * standardUncertainty) held++;
    }
    expect(held / TRIES).toBeGreaterThan(0.9);
    expect(held / TRIES).toBeLessThan(0.99);
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
