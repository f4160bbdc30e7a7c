import fc from 'fast-check';
import { seededRandom, standardNormal } from '../numeric/index.js';
import {
  compareSetups,
  figureVocabulary,
  type ComparedRun,
  type ComparisonInput,
  type PairComparison,
} from './index.js';

/** Values of runs of which nothing else is known. */
interface Named {
  readonly name: string;
  readonly values: readonly number[];
  readonly of?: Omit<ComparedRun, 'value'>;
}
const compare = (setups: readonly Named[], more: Partial<ComparisonInput> = {}) =>
  compareSetups({
    setups: setups.map(({ name, values, of }) => ({ name, runs: values.map((value) => ({ value, ...of })) })),
    smallestDifference: { kind: 'relative', value: 0.05 },
    words: figureVocabulary('netConsumption', 'Net consumption', 'less'),
    unit: 'Wh/km',
    seed: 1,
    resamples: 0,
    ...more,
  });
const differenceOf = (pair: PairComparison | undefined) => pair!.difference!;
const around = (mean: number, spread: number, n: number): number[] =>
  Array.from({ length: n }, (_, k) => mean + spread * (k - (n - 1) / 2));

describe('the interval of a difference', () => {
  it('holds the truth in 93 to 97 % of 2 000 trials with unequal variances and 4 to 8 runs', () => {
    const random = seededRandom(20_261);
    let held = 0;
    const trials = 2000;
    for (let k = 0; k < trials; k++) {
      const [nA, nB] = [4 + Math.floor(5 * random()), 4 + Math.floor(5 * random())];
      const [sdA, sdB] = [0.05 + 0.6 * random(), 0.05 + 0.6 * random()];
      const truth = 2 * random() - 1;
      const a = Array.from({ length: nA }, () => 9 + truth + sdA * standardNormal(random));
      const b = Array.from({ length: nB }, () => 9 + sdB * standardNormal(random));
      const { lower, upper } = differenceOf(
        compare([
          { name: 'A', values: a },
          { name: 'B', values: b },
        ]).pairs[0],
      );
      if (lower <= truth && truth <= upper) held++;
    }
    expect(held / trials).toBeGreaterThan(0.93);
    expect(held / trials).toBeLessThan(0.97);
  });

  it('holds all truths together in about 95 % of trials with four setups', () => {
    const random = seededRandom(7);
    let held = 0;
    const trials = 200;
    const truths = [9, 9.3, 8.8, 9.6];
    for (let k = 0; k < trials; k++) {
      const setups = truths.map((mean, j) => ({
        name: String(j),
        values: Array.from({ length: 6 }, () => mean + (0.2 + 0.1 * j) * standardNormal(random)),
      }));
      const { pairs } = compare(setups);
      if (
        pairs.every(
          ({ a, b, difference }) =>
            difference!.lower <= truths[+a]! - truths[+b]! && truths[+a]! - truths[+b]! <= difference!.upper,
        )
      )
        held++;
    }
    expect(held / trials).toBeGreaterThan(0.9);
    expect(held / trials).toBeLessThan(0.99);
  });

  it('turns round when the setups are swapped, and grows with the unit', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 5, max: 15, noNaN: true }), { minLength: 3, maxLength: 8 }),
        fc.array(fc.double({ min: 5, max: 15, noNaN: true }), { minLength: 3, maxLength: 8 }),
        (a, b) => {
          fc.pre(new Set(a).size > 2 && new Set(b).size > 2);
          const ab = compare([
            { name: 'A', values: a },
            { name: 'B', values: b },
          ]).pairs[0]!;
          const ba = compare([
            { name: 'B', values: b },
            { name: 'A', values: a },
          ]).pairs[0]!;
          expect(ab.difference!.lower).toBeCloseTo(-ba.difference!.upper, 8);
          expect(ab.ratio!.estimate).toBeCloseTo(1 / ba.ratio!.estimate, 8);
          const tenfold = compare([
            { name: 'A', values: a.map((v) => 10 * v) },
            { name: 'B', values: b.map((v) => 10 * v) },
          ]).pairs[0]!;
          expect(tenfold.difference!.upper).toBeCloseTo(10 * ab.difference!.upper, 6);
          expect(tenfold.ratio!.upper).toBeCloseTo(ab.ratio!.upper, 8);
        },
      ),
    ));
});

describe('the verdict', () => {
  it.each([
    ['better and it matters', around(9, 0.02, 6), around(10.5, 0.02, 6), 'better-and-matters'],
    ['better, may not matter', around(9, 0.05, 8), around(9.4, 0.05, 8), 'better-may-not-matter'],
    ['no difference that matters', around(9, 0.02, 8), around(9.02, 0.02, 8), 'no-difference-that-matters'],
    ['cannot tell yet', around(9, 0.6, 4), around(9.3, 0.6, 4), 'cannot-tell'],
  ])('is "%s" by the fixed rules', (_what, a, b, verdict) => {
    expect(
      compare([
        { name: 'A', values: a },
        { name: 'B', values: b },
      ]).pairs[0]!.verdict,
    ).toBe(verdict);
  });

  it('names the setup that uses less, whichever stands first, and never proves', () => {
    for (const [first, second] of [
      [9, 10.5],
      [10.5, 9],
    ] as const) {
      const { sentences } = compare([
        { name: 'One', values: around(first, 0.02, 5) },
        { name: 'Two', values: around(second, 0.02, 5) },
      ]);
      expect(sentences[0]).toBe(
        `${first < second ? 'One' : 'Two'} uses 14.3 % less energy per km than ${first < second ? 'Two' : 'One'}, and it matters.`,
      );
      expect(sentences[0]).not.toMatch(/prove|p </);
    }
  });

  it('calls more the better where the figure says so', () => {
    const { sentences } = compare(
      [
        { name: 'Far', values: around(60, 0.2, 5) },
        { name: 'Near', values: around(50, 0.2, 5) },
      ],
      {
        words: figureVocabulary('rangeWithReserve', 'Range', 'more'),
        unit: 'km',
      },
    );
    expect(sentences[0]).toBe('Far has 20.0 % more range than Near, and it matters.');
  });

  it('asks for more runs when it cannot tell, fewer the smaller the scatter', () => {
    const more = (spread: number) =>
      compare([
        { name: 'A', values: around(9, spread, 4) },
        { name: 'B', values: around(9.2, spread, 4) },
      ]).pairs[0]!;
    expect(more(0.6).verdict).toBe('cannot-tell');
    expect(more(0.6).moreRunsEach!).toBeGreaterThan(more(0.4).moreRunsEach!);
  });

  it('asks for more runs when more pairs are judged together', () => {
    const pair = [
      { name: 'A', values: around(9, 0.5, 4) },
      { name: 'B', values: around(9.2, 0.5, 4) },
    ];
    const alone = compare(pair).pairs[0]!.moreRunsEach!;
    const together = compare([...pair, { name: 'C', values: around(12, 0.5, 4) }]).pairs[0]!.moreRunsEach!;
    expect(together).toBeGreaterThan(alone);
  });

  it('puts what matters before what cannot be told, with three setups', () => {
    const { sentences, method } = compare([
      { name: 'A', values: around(9, 0.1, 5) },
      { name: 'B', values: around(9.2, 0.3, 5) },
      { name: 'C', values: around(12, 0.1, 5) },
    ]);
    expect(method.name).toBe('Games–Howell');
    expect(sentences[0]).toContain('and it matters');
    expect(sentences.at(-1)).toContain('Cannot tell yet');
  });
});

describe('instrument errors', () => {
  const values = { a: around(9, 0.05, 6), b: around(10, 0.05, 6) };
  const gain = (id: string | null) => ({ instrument: { id, relativeUncertainty: 0.02 } });
  const widthOf = (setups: readonly Named[]): number => {
    const { ratio } = compare(setups).pairs[0]!;
    return ratio!.upper - ratio!.lower;
  };
  const width = (idA: string | null, idB: string | null): number =>
    widthOf([
      { name: 'A', values: values.a, of: gain(idA) },
      { name: 'B', values: values.b, of: gain(idB) },
    ]);
  const plain = widthOf([
    { name: 'A', values: values.a },
    { name: 'B', values: values.b },
  ]);
  it('cancel in a ratio of runs made with one logger, and do not between two', () => {
    expect(width('L1', 'L1')).toBeCloseTo(plain, 12);
    expect(width('L1', 'L2')).toBeGreaterThan(2 * width('L1', 'L1'));
  });
  it('do not cancel where the logger is not known, on one side or on both', () => {
    expect(width('L1', null)).toBeCloseTo(width('L1', 'L2'), 12);
    expect(width(null, null)).toBeCloseTo(width('L1', 'L2'), 12);
  });
  it('cancel where both setups were ridden with each of two loggers alike, and within outings that had one each', () => {
    const run = (value: number, id: string, block: string): ComparedRun => ({ value, block, ...gain(id) });
    const both = (loggers: readonly [string, string]) =>
      compareSetups({
        setups: [9, 10].map((mean, k) => ({
          name: `S${k}`,
          runs: [0, 1, 2, 3].map((o) => run(mean + 0.1 * o + 0.01 * ((o * 7 + k) % 3), loggers[o % 2]!, `o${o}`)),
        })),
        smallestDifference: { kind: 'relative', value: 0.05 },
        words: figureVocabulary('netConsumption', 'Net consumption', 'less'),
        unit: 'Wh/km',
        seed: 1,
        resamples: 0,
      }).pairs[0]!;
    expect(both(['L1', 'L2']).instrumentUncertainty).toBeUndefined();
    expect(both(['L1', 'L1']).ratio!.upper).toBeCloseTo(both(['L1', 'L2']).ratio!.upper, 12);
  });
});

describe('data that cannot carry a comparison', () => {
  it.each([
    ['one setup', [{ name: 'A', values: [1, 2] }], 'too-few-setups'],
    [
      'one run',
      [
        { name: 'A', values: [1] },
        { name: 'B', values: [1, 2] },
      ],
      'too-few-runs',
    ],
    [
      'no scatter',
      [
        { name: 'A', values: [1, 1] },
        { name: 'B', values: [1, 1] },
      ],
      'no-spread',
    ],
  ])('is refused with the reason: %s', (_what, setups, code) => {
    expect(() => compare(setups)).toThrow(expect.objectContaining({ code }));
  });

  it('has no ratio where a value is not positive, and then judges by the difference', () => {
    const pair = compare(
      [
        { name: 'A', values: [-1, 1, 0.5] },
        { name: 'B', values: [3, 4, 3.5] },
      ],
      { smallestDifference: { kind: 'absolute', value: 0.5 } },
    ).pairs[0]!;
    expect(pair.ratio).toBeUndefined();
    expect(pair.sentence).toContain('Wh/km');
  });
});
