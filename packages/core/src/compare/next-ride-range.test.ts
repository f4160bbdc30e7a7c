import fc from 'fast-check';
import { seededRandom, standardNormal } from '../numeric/index.js';
import { nextRideRange, riddenRange } from './index.js';

describe('the range of the next ride', () => {
  it('holds 95 of 100 next rides, not 95 of 100 means', () => {
    const random = seededRandom(5);
    let held = 0;
    const trials = 1500;
    for (let k = 0; k < trials; k++) {
      const ride = (): number => 50 * Math.exp(0.08 * standardNormal(random));
      const outcome = nextRideRange(Array.from({ length: 5 }, ride), 0);
      const next = ride();
      if (outcome.ok && outcome.value.lower <= next && next <= outcome.value.upper) held++;
    }
    expect(held / trials).toBeGreaterThan(0.935);
    expect(held / trials).toBeLessThan(0.965);
  });

  it('is never surer than what all runs share', () =>
    fc.assert(
      fc.property(fc.double({ min: 0, max: 0.2, noNaN: true }), (share) => {
        const outcome = nextRideRange([50, 50.5, 49.8, 50.2], share);
        expect(outcome.ok && Math.log(outcome.value.upper / outcome.value.median)).toBeGreaterThanOrEqual(
          1.959 * share,
        );
      }),
    ));

  it('is a reason, not a number, after one run', () =>
    expect(nextRideRange([50], 0)).toEqual({ ok: false, reason: 'too-few' }));
});

describe('rides until the pack was empty', () => {
  const empty = [52, 55, 49, 51].map((distance) => ({ distance, emptied: true }));
  it('count rides stopped early as "more than": a long one lifts the median, a short one hardly does', () => {
    const median = (...more: { distance: number; emptied: boolean }[]): number => {
      const outcome = riddenRange([...empty, ...more]);
      if (!outcome.ok) throw new Error(outcome.reason);
      return outcome.value.median;
    };
    expect(median({ distance: 60, emptied: false })).toBeGreaterThan(median());
    expect(median({ distance: 5, emptied: false })).toBeCloseTo(median(), 1);
    // Taken for a ride to the end, the short one would pull it down.
    expect(median({ distance: 30, emptied: true })).toBeLessThan(median({ distance: 30, emptied: false }));
  });
  it('need two rides to the end', () =>
    expect(riddenRange([empty[0]!, { distance: 9, emptied: false }])).toEqual({ ok: false, reason: 'too-few' }));
});

describe('the median of rides until empty', () => {
  /** Share of simulated sets of rides whose interval holds the true median; rides beyond `stopAt` are stopped there. */
  const held = (n: number, stopAt: number, trials: number): number => {
    const random = seededRandom(n);
    let inside = 0;
    let judged = 0;
    for (let k = 0; k < trials; k++) {
      const distances = Array.from({ length: n }, () => 40 * Math.exp(0.08 * standardNormal(random)));
      const range = riddenRange(
        distances.map((distance) => ({ distance: Math.min(distance, stopAt), emptied: distance < stopAt })),
      );
      if (!range.ok) continue;
      judged++;
      if (range.value.lower <= 40 && range.value.upper >= 40) inside++;
    }
    return inside / judged;
  };
  it.each([
    [2, Infinity],
    [4, Infinity],
    [8, Infinity],
    [8, 44],
  ])('lies within its interval in about 95 of 100 sets of %i rides stopped at %f km', (n, stopAt) => {
    const share = held(n, stopAt, 1500);
    expect(share).toBeGreaterThan(0.93);
    expect(share).toBeLessThan(0.985);
  });
});
