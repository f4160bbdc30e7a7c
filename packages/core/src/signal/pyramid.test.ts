import fc from 'fast-check';
import { buildPyramid, PYRAMID_BINS, pyramidLevelFor, pyramidLevelOffset, VALUES_PER_BIN } from './index.js';

describe('the drawing pyramid', () => {
  it('keeps the least and the greatest of all samples at every level', () =>
    fc.assert(
      fc.property(
        fc.array(fc.float({ min: -100, max: 100, noNaN: true }), { minLength: 1, maxLength: 3000 }),
        (values) => {
          const pyramid = buildPyramid(values);
          PYRAMID_BINS.forEach((bin, level) => {
            const start = pyramidLevelOffset(values.length, level) * VALUES_PER_BIN;
            const bins = Math.ceil(values.length / bin);
            const part = [...pyramid.slice(start, start + bins * VALUES_PER_BIN)];
            expect(Math.min(...part.filter((_, k) => k % 3 === 0))).toBe(Math.min(...values));
            expect(Math.max(...part.filter((_, k) => k % 3 === 1))).toBe(Math.max(...values));
          });
        },
      ),
    ));

  it('marks a bin without any sample as missing', () => {
    expect([...buildPyramid(new Float64Array(10).fill(NaN)).slice(0, 3)]).toEqual([NaN, NaN, NaN]);
  });

  it('is used only where it is fine enough for the window', () => {
    expect(pyramidLevelFor(1_000_000, 900)).toBe(1);
    expect(pyramidLevelFor(100_000, 900)).toBe(0);
    expect(pyramidLevelFor(10_000, 900)).toBeUndefined();
  });
});
