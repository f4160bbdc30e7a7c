import { seededRandom, standardNormal } from '../../numeric/index.js';
import { assessClaim, assessRiddenClaim, byClaimedWay, impliedConsumption } from '../index.js';

const assess = (claimed: number, values: readonly number[], more: { isAtLeast?: boolean; shared?: number } = {}) => {
  const outcome = assessClaim({
    claimed,
    isAtLeast: more.isAtLeast ?? true,
    runs: values.map((value, k) => ({ value, outing: `o${k}` })),
    sharedUncertainty: more.shared ?? 0,
  });
  if (!outcome.ok) throw new Error(outcome.reason);
  return outcome.value;
};
const RIDES = [62, 64, 61, 63];

describe('a claim against runs', () => {
  it('is met, not met, or not to be told, by one-sided bounds', () => {
    expect(assess(55, RIDES).verdict).toBe('met');
    expect(assess(90, RIDES).verdict).toBe('not-met');
    expect(assess(63, RIDES).verdict).toBe('cannot-tell');
  });
  it('goes the other way where less is claimed: mass, time to charge', () => {
    expect(assess(70, RIDES, { isAtLeast: false }).verdict).toBe('met');
    expect(assess(55, RIDES, { isAtLeast: false }).verdict).toBe('not-met');
  });
  it('is not decided by what all runs share', () =>
    expect(assess(70, RIDES, { shared: 0.1 }).verdict).toBe('cannot-tell'));
  it('needs two runs', () =>
    expect(
      assessClaim({ claimed: 50, isAtLeast: true, runs: [{ value: 60, outing: 'o' }], sharedUncertainty: 0 }),
    ).toEqual({
      ok: false,
      reason: 'too-few',
    }));
  it('of exactly the truth is said not to be met in about 5 of 100 trials, with outings that differ', () => {
    const random = seededRandom(9);
    const trials = 1500;
    let missed = 0;
    for (let k = 0; k < trials; k++) {
      const runs = Array.from({ length: 5 }, (_, o) => {
        const day = 2 * standardNormal(random);
        return Array.from({ length: 3 }, () => ({ value: 60 + day + standardNormal(random), outing: `o${o}` }));
      }).flat();
      const outcome = assessClaim({ claimed: 60, isAtLeast: true, runs, sharedUncertainty: 0 });
      if (outcome.ok && outcome.value.verdict === 'not-met') missed++;
    }
    expect(missed / trials).toBeGreaterThan(0.03);
    expect(missed / trials).toBeLessThan(0.07);
  });
});

describe('what a claimed range on a claimed pack means', () => {
  it('is the energy over the range, and who has to do the rest', () => {
    // 0.5·1.204·0.55·(20/3.6)² + 105·9.807·0.007 = 10.2 + 7.2 N: 4.84 Wh/km at the wheel.
    const claim = impliedConsumption({ energyWh: 360, rangeKm: 120 });
    expect(claim.whPerKm).toBe(3);
    expect(claim.roadWhPerKm).toBeCloseTo(4.84, 1);
    expect(claim).toMatchObject({ plausibility: 'rider-mostly' });
    expect(impliedConsumption({ energyWh: 360, rangeKm: 45 })).toMatchObject({
      plausibility: 'motor-alone',
      riderShare: 0,
    });
    expect(impliedConsumption({ energyWh: 360, rangeKm: 500 }).plausibility).toBe('hardly-possible');
  });
  it('leaves the rider more the faster it is', () => {
    const at = (speedKmh: number): number => impliedConsumption({ energyWh: 360, rangeKm: 80, speedKmh }).riderShare;
    expect(at(32)).toBeGreaterThan(at(25));
  });
});

describe('runs as they know themselves', () => {
  const run = (value: number, way: string | null, standardUncertainty = 0.06 * value) => ({
    value,
    standardUncertainty,
    outing: String(value),
    riding: { way },
  });
  it('cannot meet a claim by less than what all of them share of their uncertainty', () => {
    const alike = [51, 51.2, 50.9, 51.1].map((value) => run(value, null));
    expect(assessRiddenClaim(50, true, alike)).toMatchObject({ ok: true, value: { verdict: 'cannot-tell' } });
    const sure = alike.map((one) => ({ ...one, standardUncertainty: 0.001 * one.value }));
    expect(assessRiddenClaim(50, true, sure)).toMatchObject({ ok: true, value: { verdict: 'met' } });
    expect(assessRiddenClaim(50, true, sure.slice(1, 2)).ok).toBe(false);
  });
  it('count only where they were ridden as the claim says', () => {
    const runs = [run(70, 'hard'), run(40, 'throttle'), run(41, 'throttle'), run(60, null)];
    expect(byClaimedWay(runs, 'throttle')).toEqual([{ way: 'throttle', own: runs.slice(1, 3) }]);
    expect(byClaimedWay(runs, null).map(({ way, own }) => [way, own.length])).toEqual([
      ['hard', 1],
      ['throttle', 2],
      [null, 1],
    ]);
  });
});
