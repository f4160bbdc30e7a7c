import fc from 'fast-check';
import { seededRandom, standardNormal } from '../../numeric/index.js';
import { CLIMB_HYSTERESIS_M, climbedM, smoothProfile } from '../index.js';

describe('climbing', () => {
  it('adds up rises and forgets those below the hysteresis', () => {
    expect(climbedM([0, 10, 5, 20], 2)).toBe(25);
    expect(climbedM([0, 1, 0, 1, 0, 1], 2)).toBe(0);
    expect(climbedM([5, 4, 3], 2)).toBe(0);
  });

  it('does not change with the height of the start and grows no smaller with less hysteresis', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -50, max: 50, noNaN: true }), { minLength: 2, maxLength: 60 }),
        fc.integer({ min: -100, max: 1000 }),
        (profile, shift) => {
          expect(
            climbedM(
              profile.map((v) => v + shift),
              2,
            ),
          ).toBeCloseTo(climbedM(profile, 2), 6);
          expect(climbedM(profile, 1)).toBeGreaterThanOrEqual(climbedM(profile, 3) - 1e-9);
        },
      ),
    ));

  it('reads a steady climb through noise that would double the raw sum', () => {
    const random = seededRandom(3);
    const distance = Array.from({ length: 1000 }, (_, k) => 2 * k);
    const altitude = distance.map((d) => 0.05 * d + 0.5 * standardNormal(random));
    const profile = smoothProfile(distance, altitude)!;
    expect(climbedM(profile.altitudeM, CLIMB_HYSTERESIS_M)).toBeCloseTo(100, -0.5);
    const raw = altitude.reduce((sum, a, k) => (k === 0 ? 0 : sum + Math.max(0, a - altitude[k - 1]!)), 0);
    expect(raw).toBeGreaterThan(200);
    const middle = profile.gradeFraction[500]!;
    expect(Math.abs(middle - 0.05)).toBeLessThan(4 * profile.gradeStandardError[500]!);
  });
});
