import fc from 'fast-check';
import { binExtremes } from './index.js';

describe('binExtremes', () => {
  it('keeps every peak and never gives more bins than asked', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: 1, maxLength: 500 }),
        fc.integer({ min: 1, max: 80 }),
        (values, bins) => {
          const { low, high, positions } = binExtremes(values, values, bins);
          expect(low.length).toBeLessThanOrEqual(bins);
          expect(Math.min(...low)).toBe(Math.min(...values));
          expect(Math.max(...high)).toBe(Math.max(...values));
          expect([...positions]).toEqual([...positions].sort((a, b) => a - b));
        },
      ),
    ));

  it('leaves a bin without samples empty', () => {
    expect([...binExtremes([NaN, NaN, 3, 4], [NaN, NaN, 3, 4], 2).low]).toEqual([NaN, 3]);
  });
});
