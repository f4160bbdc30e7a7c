import fc from 'fast-check';
import { seededRandom, standardNormal } from '../numeric/index.js';
import {
  adjustBenjaminiHochberg,
  adjustHolm,
  bootstrapDifference,
  compareWithBlocks,
  describeSample,
  fitLinearModel,
  gamesHowell,
  hedgesG,
  kruskalWallis,
  mannWhitney,
  normalCdf,
  normalQuantile,
  oneWayAnova,
  pairedTInterval,
  permutationTest,
  powerOfTTest,
  runsForPower,
  sampleQuantile,
  standardErrorOfMean,
  studentizedRangeCdf,
  studentizedRangeQuantile,
  studentTCdf,
  studentTQuantile,
  summarizeSample,
  tukeyKramer,
  welchAnova,
  welchEquivalence,
  welchTInterval,
  wilcoxonSignedRank,
} from './index.js';

const sample = fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: 3, maxLength: 12 });
const spread = (values: readonly number[]): boolean => summarizeSample(values).variance > 1e-6;
const value = <T>(outcome: { ok: true; value: T } | { ok: false; reason: string }): T => {
  if (!outcome.ok) throw new Error(outcome.reason);
  return outcome.value;
};

describe('distributions', () => {
  it('quantile and distribution undo one another', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 0.001, max: 0.999, noNaN: true }),
        fc.double({ min: 1, max: 200, noNaN: true }),
        (p, df) => {
          expect(studentTCdf(studentTQuantile(p, df), df)).toBeCloseTo(p, 8);
          expect(normalCdf(normalQuantile(p))).toBeCloseTo(p, 8);
        },
      ),
    ));

  it("Student's t becomes normal with many degrees of freedom", () => {
    expect(studentTQuantile(0.975, 1e6)).toBeCloseTo(1.959964, 4);
  });

  it('the studentized range of two groups is √2 times t', () => {
    for (const df of [3, 8, 30]) {
      expect(studentizedRangeQuantile(0.95, 2, df)).toBeCloseTo(Math.SQRT2 * studentTQuantile(0.975, df), 5);
      expect(studentizedRangeCdf(0, 2, df)).toBe(0);
    }
  });
});

describe('describing a sample', () => {
  it('does not mind the order, and moves and stretches with the data', () =>
    fc.assert(
      fc.property(
        sample,
        fc.double({ min: -5, max: 5, noNaN: true }),
        fc.double({ min: 0.5, max: 3, noNaN: true }),
        (values, shift, scale) => {
          const plain = describeSample(values);
          expect(describeSample([...values].reverse()).median).toBeCloseTo(plain.median, 9);
          const moved = describeSample(values.map((v) => scale * v + shift));
          expect(moved.mean).toBeCloseTo(scale * plain.mean + shift, 6);
          expect(moved.standardDeviation!).toBeCloseTo(scale * plain.standardDeviation!, 6);
        },
      ),
    ));

  it('has a standard error that is the half-width of its interval over the quantile of t, and none of one value', () =>
    fc.assert(
      fc.property(sample, (values) => {
        fc.pre(spread(values));
        const described = describeSample(values);
        const quantile = studentTQuantile(0.975, values.length - 1);
        const halfWidth = (described.intervalOfMean!.upper - described.intervalOfMean!.lower) / 2;
        expect(standardErrorOfMean(described)!).toBeCloseTo(halfWidth / quantile, 7);
        expect(standardErrorOfMean(describeSample([values[0]!]))).toBeUndefined();
      }),
    ));

  it('keeps digits where the naive formula loses them', () => {
    const { variance } = summarizeSample([1e9 + 1, 1e9 + 2, 1e9 + 3]);
    expect(variance).toBeCloseTo(1, 9);
  });

  it('has quantiles that rise with p and end at the extremes', () => {
    const values = [3, 1, 4, 1, 5, 9];
    const quantiles = [0, 0.25, 0.5, 0.75, 1].map((p) => sampleQuantile(values, p));
    expect(quantiles).toEqual([...quantiles].sort((a, b) => a - b));
    expect([quantiles[0], quantiles[4]]).toEqual([1, 9]);
  });
});

describe('two samples', () => {
  it('Welch mirrors when they are swapped and does not move with a common shift', () =>
    fc.assert(
      fc.property(sample, sample, fc.double({ min: -100, max: 100, noNaN: true }), (a, b, shift) => {
        fc.pre(spread(a) && spread(b));
        const interval = (x: readonly number[], y: readonly number[]) =>
          value(welchTInterval(summarizeSample(x), summarizeSample(y), 0.95));
        const ab = interval(a, b);
        expect(ab.lower).toBeCloseTo(-interval(b, a).upper, 7);
        expect(
          interval(
            a.map((v) => v + shift),
            b.map((v) => v + shift),
          ).estimate,
        ).toBeCloseTo(ab.estimate, 6);
      }),
    ));

  it("Hedges' g is smaller than Cohen's d, the more so with few runs", () => {
    const effect = (n: number) => {
      const a = summarizeSample(Array.from({ length: n }, (_, k) => k));
      const b = summarizeSample(Array.from({ length: n }, (_, k) => k + 3));
      return value(hedgesG(a, b));
    };
    expect(Math.abs(effect(4).g)).toBeLessThan(Math.abs(effect(4).cohenD));
    expect(effect(4).correction).toBeLessThan(effect(20).correction);
  });

  it('ranks do not mind a monotone change of scale', () => {
    const [a, b] = [
      [1.1, 2.3, 3.7, 4.2],
      [2.9, 5.3, 6.1, 7.7],
    ];
    const plain = value(mannWhitney(a, b, 0.95));
    const bent = value(mannWhitney(a.map(Math.exp), b.map(Math.exp), 0.95));
    expect(bent.pValue).toBeCloseTo(plain.pValue, 12);
    expect(plain.exact).toBe(true);
  });

  it('the permutation test counts every arrangement when there are few', () => {
    // 4 of 8: 70 arrangements, of which the given one and its mirror are the most extreme.
    const test = value(permutationTest([1, 2, 3, 4], [11, 12, 13, 14], seededRandom(1)));
    expect(test).toMatchObject({ exact: true, arrangements: 70 });
    expect(test.pValue).toBeCloseTo(2 / 70, 12);
  });

  it('the bootstrap holds the difference and repeats with its seed', () => {
    const a = [9.1, 9.4, 9.0, 9.6, 9.2];
    const b = [10.2, 10.0, 10.5, 10.1, 10.4];
    const interval = () =>
      value(bootstrapDifference(a, b, { resamples: 2000, confidenceLevel: 0.95, random: seededRandom(3) }));
    expect(interval()).toEqual(interval());
    expect(interval().lower).toBeLessThan(-0.98);
    expect(interval().upper).toBeGreaterThan(-0.98);
  });

  it('finds no difference that matters only when the interval lies within', () => {
    const a = summarizeSample([9.0, 9.1, 9.05, 8.95, 9.02]);
    const b = summarizeSample([9.03, 9.08, 9.01, 8.98, 9.06]);
    expect(value(welchEquivalence(a, b, 0.5)).withinMargin).toBe(true);
    expect(value(welchEquivalence(a, b, 0.01)).withinMargin).toBe(false);
  });
});

describe('pairs and blocks', () => {
  const base = [9.0, 10.5, 8.2, 11.1, 9.7, 10.0];
  const gain = [1.02, 0.95, 1.08, 0.99, 1.04, 0.97];

  it('pairing takes out what both runs of an outing share', () => {
    const b = base.map((v, k) => v + gain[k]!);
    const paired = value(
      pairedTInterval(
        b.map((v, k) => v - base[k]!),
        0.95,
      ),
    );
    const apart = value(welchTInterval(summarizeSample(b), summarizeSample(base), 0.95));
    expect(paired.upper - paired.lower).toBeLessThan((apart.upper - apart.lower) / 8);
    expect(paired.estimate).toBeCloseTo(apart.estimate, 10);
  });

  it('the signed ranks agree on the sign and are exact', () => {
    const ranks = value(wilcoxonSignedRank(gain, 0.95));
    expect(ranks.statistic).toBe(21);
    expect(ranks.pValue).toBeCloseTo(2 / 64, 12);
    expect(ranks.estimate).toBeGreaterThan(0.95);
  });

  it('a model of setups and outings gives the paired difference back, and stands a missing run', () => {
    const y = [...base, ...base.map((v, k) => v + gain[k]!)];
    const setup = [...base.map(() => 0), ...base.map(() => 1)];
    const block = [...base.keys(), ...base.keys()];
    const whole = value(compareWithBlocks(y, setup, block, 0.95));
    const mean = gain.reduce((s, v) => s + v, 0) / gain.length;
    expect(Math.abs(whole.contrasts[0]!.difference)).toBeCloseTo(mean, 10);
    const torn = value(compareWithBlocks(y.slice(1), setup.slice(1), block.slice(1), 0.95));
    expect(Math.abs(torn.contrasts[0]!.difference)).toBeCloseTo(1, 1);
  });

  it('says that setups ridden each on its own day cannot be told from the days', () => {
    expect(compareWithBlocks([1, 2, 3, 4], [0, 0, 1, 1], [0, 0, 1, 1], 0.95)).toEqual({
      ok: false,
      reason: 'not-separable',
    });
  });
});

describe('several samples', () => {
  const groups = [
    [9.1, 9.3, 9.2, 9.4],
    [10.1, 10.4, 10.2, 10.6],
    [9.2, 9.5, 9.1, 9.3],
  ];

  it('analysis of variance of two groups is the square of t', () => {
    const [a, b] = [groups[0]!, groups[1]!];
    const f = value(oneWayAnova([a, b]));
    const pooled = (summarizeSample(a).variance + summarizeSample(b).variance) / 2;
    const t = (summarizeSample(a).mean - summarizeSample(b).mean) / Math.sqrt(pooled * (2 / 4));
    expect(f.f).toBeCloseTo(t * t, 8);
    expect(value(welchAnova([a, b])).f).toBeCloseTo(
      value(welchTInterval(summarizeSample(a), summarizeSample(b), 0.95)).t ** 2,
      8,
    );
  });

  it('simultaneous intervals are wider than single ones', () => {
    const single = value(welchTInterval(summarizeSample(groups[0]!), summarizeSample(groups[1]!), 0.95));
    const together = value(gamesHowell(groups, 0.95))[0]!;
    expect(together.upper - together.lower).toBeGreaterThan(single.upper - single.lower);
    expect(value(tukeyKramer(groups, 0.95))).toHaveLength(3);
  });

  it('ranks of several groups do not mind a monotone change of scale', () => {
    const bent = groups.map((group) => group.map(Math.exp));
    expect(value(kruskalWallis(bent)).h).toBeCloseTo(value(kruskalWallis(groups)).h, 10);
  });

  it('adjusted p-values are never smaller, keep their order and stay at most 1', () =>
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 12 }), (p) => {
        for (const adjusted of [adjustHolm(p), adjustBenjaminiHochberg(p)])
          adjusted.forEach((q, k) => {
            expect(q).toBeGreaterThanOrEqual(p[k]! - 1e-12);
            expect(q).toBeLessThanOrEqual(1);
          });
        adjustHolm(p).forEach((q, k) => expect(q).toBeGreaterThanOrEqual(adjustBenjaminiHochberg(p)[k]! - 1e-12));
      }),
    ));
});

describe('planning', () => {
  const question = { difference: 0.5, standardDeviation: 0.4, design: 'two-sample' } as const;
  it('more runs, a larger difference and less scatter give more power', () => {
    expect(powerOfTTest(question, 10)).toBeGreaterThan(powerOfTTest(question, 5));
    expect(powerOfTTest({ ...question, difference: 0.8 }, 5)).toBeGreaterThan(powerOfTTest(question, 5));
    expect(powerOfTTest({ ...question, standardDeviation: 0.2 }, 5)).toBeGreaterThan(powerOfTTest(question, 5));
  });
  it('the runs it asks for give the power that was wanted', () => {
    const n = runsForPower(question, 0.8);
    expect(powerOfTTest(question, n)).toBeCloseTo(0.8, 6);
    expect(() => runsForPower({ ...question, difference: 0 })).toThrow(
      expect.objectContaining({ code: 'not-positive' }),
    );
  });
  it('agrees with what really happens in simulated trials', () => {
    const random = seededRandom(12);
    let seen = 0;
    const trials = 1500;
    for (let k = 0; k < trials; k++) {
      const a = Array.from({ length: 8 }, () => 0.5 + 0.4 * standardNormal(random));
      const b = Array.from({ length: 8 }, () => 0.4 * standardNormal(random));
      const { lower, upper } = value(welchTInterval(summarizeSample(a), summarizeSample(b), 0.95));
      if (lower > 0 || upper < 0) seen++;
    }
    expect(Math.abs(seen / trials - powerOfTTest(question, 8))).toBeLessThan(0.04);
  });
});

describe('least squares', () => {
  it('recovers a line without noise and says when columns repeat one another', () => {
    const rows = [0, 1, 2, 3, 4].map((x) => [1, x]);
    const { coefficients } = value(
      fitLinearModel(
        rows,
        rows.map(([, x]) => 3 - 2 * x!),
      ),
    );
    expect(coefficients[0]).toBeCloseTo(3, 9);
    expect(coefficients[1]).toBeCloseTo(-2, 9);
    expect(
      fitLinearModel(
        rows.map(([one, x]) => [one!, x!, 2 * x!]),
        [1, 2, 3, 4, 6],
      ),
    ).toEqual({ ok: false, reason: 'not-separable' });
  });
  it('takes more rows than a call takes arguments, and columns of any magnitude', () => {
    const rows = Array.from({ length: 300_000 }, (_, k) => [1, (k % 1000) * 1e160, (k % 7) * 1e-170]);
    const { coefficients, residualVariance } = value(
      fitLinearModel(
        rows,
        rows.map(([, x, z], k) => 3 - 2e-160 * x! + 5e170 * z! + (k % 2 === 0 ? 1 : -1)),
      ),
    );
    expect(coefficients[0]).toBeCloseTo(3, 1);
    expect(coefficients[1]! * 1e160).toBeCloseTo(-2, 4);
    expect(coefficients[2]! / 1e170).toBeCloseTo(5, 2);
    expect(residualVariance).toBeCloseTo(1, 3);
  });
});
