import fc from 'fast-check';
import { seededRandom, standardNormal } from '../numeric/index.js';
import { studentTQuantile } from '../statistics/index.js';
import { coverageFactor } from './coverage-factor.js';

const MANY = 1e6;

describe('the coverage factor', () => {
  it('is the normal one without a limit, t with few degrees of freedom, and 0.95·√3 for a limit alone', () => {
    expect(coverageFactor(0, MANY)).toBeCloseTo(1.96, 3);
    expect(coverageFactor(0, 4)).toBeCloseTo(studentTQuantile(0.975, 4), 9);
    expect(coverageFactor(1, MANY)).toBeCloseTo(0.95 * Math.sqrt(3), 9);
  });

  it('falls with the share of the limit, and never leaves those bounds', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 0.3, noNaN: true }),
        (share, more) => {
          const [a, b] = [coverageFactor(share, MANY), coverageFactor(Math.min(1, share + more), MANY)];
          expect(b).toBeLessThanOrEqual(a + 1e-3);
          expect(a).toBeGreaterThanOrEqual(0.95 * Math.sqrt(3) - 1e-6);
          expect(a).toBeLessThanOrEqual(1.9601);
        },
      ),
    );
  });

  it.each([0.2, 0.5, 0.8, 0.95])(
    'holds 95 of 100 sums of a limit that makes %s of the variance and of scatter',
    (share) => {
      const random = seededRandom(7);
      const k = coverageFactor(share, MANY);
      const n = 40_000;
      let held = 0;
      for (let j = 0; j < n; j++) {
        const error = Math.sqrt(3 * share) * (2 * random() - 1) + Math.sqrt(1 - share) * standardNormal(random);
        if (Math.abs(error) <= k) held++;
      }
      expect(Math.abs(held / n - 0.95)).toBeLessThan(0.004);
    },
  );
});
