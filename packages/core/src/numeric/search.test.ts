import fc from 'fast-check';
import { firstAtOrAfter, mean } from './index.js';

describe('the first time at or after another', () => {
  it('is where a walk through all of them finds it', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { maxLength: 60 }),
        fc.double({ min: -1e6, max: 1e6, noNaN: true }),
        (times, t) => {
          const sorted = Float64Array.from(times).sort();
          const walked = sorted.findIndex((time) => time >= t);
          expect(firstAtOrAfter(sorted, t)).toBe(walked < 0 ? sorted.length : walked);
        },
      ),
    ));
});

describe('the mean', () => {
  it('lies between the least and the greatest, and moves with all of them', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 1, maxLength: 40 }),
        fc.double({ min: -100, max: 100, noNaN: true }),
        (values, by) => {
          const of = mean(values);
          expect(of).toBeGreaterThanOrEqual(Math.min(...values) - 1e-6);
          expect(of).toBeLessThanOrEqual(Math.max(...values) + 1e-6);
          expect(mean(values.map((value) => value + by))).toBeCloseTo(of + by, 6);
        },
      ),
    ));
  it('of nothing is not a number', () => expect(mean([])).toBeNaN());
});
