import { powerOfTTest, fitPeukert } from '../statistics/index.js';
import { repeatsOf } from './index.js';

describe('how far a figure repeats', () => {
  const values = [9.4, 9.7, 9.5, 9.9, 9.6];
  it('mean, scatter, repeatability coefficient', () => {
    const repeats = repeatsOf(values)!;
    expect(repeats).toMatchObject({ n: 5 });
    expect(repeats.mean).toBeCloseTo(9.62, 9);
    expect(repeats.sd).toBeCloseTo(0.19235, 4);
    expect(repeats.repeatability).toBeCloseTo(1.959963984540054 * Math.SQRT2 * repeats.sd, 9);
    // t(0.975, 4) = 2.7764 of the tables.
    expect(repeats.plusMinus).toBeCloseTo((2.7764 * repeats.sd) / Math.sqrt(5), 4);
  });
  it('the smallest detectable difference is seen with 80 %, and shrinks with more runs', () => {
    const { detectable, sd } = repeatsOf(values)!;
    for (const { runs, difference } of detectable)
      expect(powerOfTTest({ difference, standardDeviation: sd, design: 'two-sample' }, runs)).toBeCloseTo(0.8, 4);
    expect(detectable.map(({ runs }) => runs)).toEqual([3, 5, 10]);
    expect(detectable[0]!.difference).toBeGreaterThan(detectable[2]!.difference);
  });
  it('scales with its unit', () => {
    const [a, b] = [repeatsOf(values)!, repeatsOf(values.map((value) => 1000 * value))!];
    expect(b.repeatability).toBeCloseTo(1000 * a.repeatability, 6);
  });
  it('one run, or runs that are all alike, tell nothing', () => {
    expect(repeatsOf([9.4])).toBeUndefined();
    expect(repeatsOf([9.4, 9.4, 9.4])).toBeUndefined();
  });
});

describe('Peukert', () => {
  it('finds the exponent that made the capacities', () => {
    const fit = fitPeukert([2, 5, 10, 20].map((currentA) => ({ currentA, capacityAh: 20 * currentA ** (1 - 1.2) })));
    if (!fit.ok) throw new Error(fit.reason);
    expect(fit.value.exponent).toBeCloseTo(1.2, 9);
  });
  it('needs three discharges at different currents', () => {
    expect(fitPeukert([{ currentA: 2, capacityAh: 10 }])).toEqual({ ok: false, reason: 'too-few' });
    expect(fitPeukert([1, 2, 3].map((capacityAh) => ({ currentA: 5, capacityAh })))).toEqual({
      ok: false,
      reason: 'not-separable',
    });
  });
});
