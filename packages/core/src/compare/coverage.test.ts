import { seededRandom, type Random } from '../numeric/index.js';
import { powerOfPlan } from '../planning/index.js';
import {
  compareSetups,
  figureVocabulary,
  judgeLook,
  simulateTrial,
  type Comparison,
  type SetupRuns,
  type TrialLayout,
} from './index.js';

const repeat = (outings: number, setups: readonly number[]): TrialLayout =>
  Array.from({ length: outings }, () => setups);
const judge = (setups: readonly SetupRuns[], look?: ReturnType<typeof judgeLook>): Comparison =>
  compareSetups({
    setups,
    smallestDifference: { kind: 'relative', value: 0.05 },
    words: figureVocabulary('netConsumption', 'Net consumption', 'less'),
    unit: 'Wh/km',
    seed: 1,
    resamples: 0,
    isBrief: true,
    ...(look && { look }),
  });
const RUN_SD = 0.03;

/** Share of trials in which every interval holds the truth, and in which a difference is said that is not there. */
function tried(layout: TrialLayout, daySd: number, trials: number, random: Random, spread?: readonly number[]) {
  const setups = Math.max(...layout.flat()) + 1;
  const logMeans = Array.from({ length: setups }, () => Math.log(10));
  let held = 0;
  let falseBetter = 0;
  for (let k = 0; k < trials; k++) {
    const { pairs } = judge(
      simulateTrial({ layout, logMeans, daySd, runSd: RUN_SD, ...(spread && { spread }) }, random),
    );
    if (pairs.every(({ ratio }) => ratio!.lower <= 1 && ratio!.upper >= 1)) held++;
    if (pairs.some(({ verdict }) => verdict.startsWith('better'))) falseBetter++;
  }
  return { held: held / trials, falseBetter: falseBetter / trials };
}

/** Three standard errors of a share of 0.95 in so many trials, about the 93 to 97 % that are wanted. */
const slack = (trials: number): number => 3 * Math.sqrt((0.95 * 0.05) / trials) - 0.02;

// `npm run bench` tries more: the table stands in docs/methods.md.
describe('the interval of every design', () => {
  const TRIALS = 150;
  it.each<[string, TrialLayout]>([
    ['two setups in turns on four outings', repeat(4, [0, 1, 1, 0])],
    ['three setups once on each of five outings', repeat(5, [0, 1, 2])],
    ['three setups with a third of the cells missing', [...repeat(3, [0, 1, 2]), [0, 1], [1, 2], [0, 2]]],
    ['outings of one setup each, four of them', Array.from({ length: 8 }, (_, k) => [k % 2, k % 2, k % 2])],
    [
      'outings of one setup each, uneven',
      Array.from({ length: 9 }, (_, k) => new Array<number>(1 + (k % 4)).fill(k % 2)),
    ],
    [
      'twelve outings of two setups out of three',
      Array.from(
        { length: 12 },
        (_, k) =>
          [
            [0, 1],
            [1, 2],
            [0, 2],
          ][k % 3]!,
      ),
    ],
  ])('holds for %s', (_what, layout) => {
    const random = seededRandom(12);
    for (const daySd of [0, 0.06]) {
      const { held, falseBetter } = tried(layout, daySd, TRIALS, random);
      expect(held).toBeGreaterThan(0.93 - slack(TRIALS));
      expect(held).toBeLessThan(0.97 + slack(TRIALS));
      expect(falseBetter).toBeLessThan(0.05 + slack(TRIALS) + 0.02);
    }
  });

  it('holds where one setup scatters three times as much as the other, ridden in turns', () => {
    const { held } = tried(repeat(4, [0, 1, 1, 0]), 0.05, 400, seededRandom(5), [3, 1]);
    expect(held).toBeGreaterThan(0.92 - slack(400));
  });
});

describe('a verdict within outings', () => {
  it('is not fooled by the day: better in every outing is better, though the plain means say the opposite', () => {
    // Ridden mostly on the easy days, the first has the lower mean; on each of them it is the worse.
    const days = [8, 8.4, 11, 11.6];
    const counts = [
      [4, 1],
      [4, 1],
      [1, 4],
      [1, 4],
    ];
    const runs = (setup: number) =>
      days.flatMap((day, o) =>
        Array.from({ length: counts[o]![setup]! }, (_, k) => ({
          value: day + (setup === 0 ? 0.6 : 0) + 0.02 * ((k * 7 + o + setup) % 3),
          block: `day ${o}`,
        })),
      );
    const comparison = judge([
      { name: 'A', runs: runs(0) },
      { name: 'B', runs: runs(1) },
    ]);
    expect(comparison.setups[0]!.mean).toBeLessThan(comparison.setups[1]!.mean);
    expect(comparison).toMatchObject({ design: 'blocked' });
    expect(comparison.sentences[0]).toMatch(/^B uses \d(\.\d)? % less energy per km than A/);
  });

  it('has the power that was planned, whatever the day-to-day scatter', () => {
    const planned = powerOfPlan(
      { setups: 2, isBlocked: true, outings: 3, standardDeviation: RUN_SD },
      Math.log(1.05),
      6,
    );
    const random = seededRandom(8);
    for (const daySd of [0, 0.03, 0.06, 0.1]) {
      let seen = 0;
      const trials = 500;
      for (let k = 0; k < trials; k++) {
        const [pair] = judge(
          simulateTrial(
            { layout: repeat(3, [0, 1, 1, 0]), logMeans: [Math.log(1.05), 0], daySd, runSd: RUN_SD },
            random,
          ),
        ).pairs;
        if (pair!.ratio!.lower > 1) seen++;
      }
      expect(Math.abs(seen / trials - planned)).toBeLessThan(0.065);
    }
  });
});

describe('looking after every outing', () => {
  const LOOKS = 5;
  /** Share of trials in which some look says "better, and it matters" of a truth at `logRatio`. */
  const found = (
    logRatio: number,
    isPlanned: boolean,
    said: (pair: Comparison['pairs'][number]) => boolean,
  ): number => {
    const random = seededRandom(21);
    const trials = 200;
    // The same in every trial: after each outing, knowing of those before.
    const counts = Array.from({ length: LOOKS }, (_, k) => 4 * (k + 1));
    const looks = counts.map((count, k) => judgeLook(count, counts.slice(0, k), isPlanned ? 4 * LOOKS : undefined));
    let wrong = 0;
    for (let k = 0; k < trials; k++) {
      const all = simulateTrial(
        { layout: repeat(LOOKS, [0, 1, 1, 0]), logMeans: [logRatio, 0], daySd: 0.05, runSd: RUN_SD },
        random,
      );
      for (const [done, look] of looks.entries()) {
        const upTo = all.map(({ name, runs }) => ({ name, runs: runs.slice(0, 2 * (done + 1)) }));
        const judged = judge(upTo, look);
        if (said(judged.pairs[0]!)) {
          wrong++;
          break;
        }
      }
    }
    return wrong / trials;
  };
  const matters = ({ verdict }: Comparison['pairs'][number]): boolean => verdict === 'better-and-matters';
  const better = ({ verdict }: Comparison['pairs'][number]): boolean => verdict.startsWith('better');

  it.each([true, false])(
    'finds what matters in at most 5 of 100 trials at the edge of what matters (planned: %s)',
    (isPlanned) => {
      expect(found(Math.log(1.05), isPlanned, matters)).toBeLessThan(0.05 + 0.03);
      expect(found(0, isPlanned, matters)).toBeLessThan(0.01);
    },
  );
  it('finds a difference that is not there in at most 5 of 100 planned trials', () =>
    expect(found(0, true, better)).toBeLessThan(0.05 + 0.035));
});
