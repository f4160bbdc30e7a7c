import { knownProfile, partOfTypedClimb, typedClimbUncertaintyM } from './typed-climb.js';

const typed = { kind: 'climb', lengthM: 800, track: null, climbM: 48, climbUncertaintyM: null };

describe('a climb that was typed', () => {
  it('is one even slope, with what such a figure may be off by', () => {
    const [start, end] = knownProfile(typed)!;
    expect([start!.altitudeM, end!.altitudeM, end!.distanceM]).toEqual([0, 48, 800]);
    expect(start!.grade).toBeCloseTo(0.06, 9);
    expect(start!.gradeUncertainty * 800).toBeCloseTo(4.8, 9);
    expect(typedClimbUncertaintyM(10, null)).toBe(3);
    expect(typedClimbUncertaintyM(10, 1)).toBe(1);
  });
  it('stands back behind a track, and is nothing without a length', () => {
    const profile = [
      { distanceM: 0, altitudeM: 100 },
      { distanceM: 800, altitudeM: 130 },
    ];
    expect(knownProfile({ ...typed, track: { profile } })![1]).toMatchObject({ altitudeM: 130, grade: 0 });
    expect(knownProfile({ ...typed, lengthM: null })).toBeUndefined();
    expect(knownProfile({ ...typed, climbM: null })).toBeUndefined();
  });
  it('is none on a course that comes back to its start', () => {
    expect(knownProfile({ ...typed, kind: 'loop' })).toBeUndefined();
    expect(partOfTypedClimb({ ...typed, kind: 'out-and-back' }, 800)).toBeUndefined();
  });
  it('of a part is its share, known the worse the less of the course it is', () => {
    const whole = partOfTypedClimb(typed, 800)!;
    expect(whole.gainM).toBe(48);
    expect(whole.uncertaintyM).toBeCloseTo(4.8, 9);
    const half = partOfTypedClimb(typed, 400)!;
    expect(half.gainM).toBe(24);
    expect(half.uncertaintyM).toBeCloseTo(Math.hypot(2.4, 24), 9);
    expect(partOfTypedClimb({ ...typed, climbM: null }, 400)).toBeUndefined();
  });
});
