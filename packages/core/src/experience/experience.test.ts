import fc from 'fast-check';
import { EXPERIENCE_KEYS, EXPERIENCE_SCALES, summariseRatings, type Rating } from './index.js';

const rating = (rider: string, noise: number, more: Partial<Rating> = {}): Rating => ({
  rider,
  phase: 'after',
  isBlind: false,
  at: '2026-05-01',
  values: { noise },
  ...more,
});

describe('how riders found a setup', () => {
  it('is their median, with how far they agree', () => {
    const of = (...values: number[]) => summariseRatings(values.map((value, k) => rating(`Rider ${k}`, value)))[0]!;
    expect(of(4)).toMatchObject({ median: 4, riders: 1, agreement: 'one-rider' });
    expect(of(4, 5)).toMatchObject({ median: 4.5, agreement: 'agree' });
    expect(of(3, 4, 4, 4, 5)).toMatchObject({ median: 4, lowest: 3, highest: 5, agreement: 'mostly' });
    expect(of(1, 2, 5)).toMatchObject({ median: 2, agreement: 'divided' });
  });

  it('counts each rider once, with the last word, however the name is written', () => {
    const [noise] = summariseRatings([
      rating('Bram Tellow', 2, { at: '2026-05-01' }),
      rating('bram tellow ', 4, { at: '2026-05-08' }),
      rating('Ottoline Vask', 4, { isBlind: true }),
    ]);
    expect(noise).toMatchObject({ median: 4, riders: 2, blindRiders: 1, agreement: 'agree' });
  });

  it('sets what was expected beside what was felt, of the same riders only', () => {
    const [noise] = summariseRatings([
      rating('A', 4),
      rating('A', 2, { phase: 'before' }),
      rating('B', 1, { phase: 'before' }),
    ]);
    expect(noise).toMatchObject({ median: 4, expected: 2, riders: 1 });
    expect(summariseRatings([rating('B', 1, { phase: 'before' })])).toEqual([]);
  });

  it('lies within the ratings, does not depend on their order, and takes only steps', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 5 }), { minLength: 1, maxLength: 12 }), (values) => {
        const given = values.map((value, k) => rating(`Rider ${k}`, value));
        const [found] = summariseRatings(given);
        const [turned] = summariseRatings([...given].reverse());
        expect(turned).toEqual(found);
        expect(found!.median).toBeGreaterThanOrEqual(Math.min(...values));
        expect(found!.median).toBeLessThanOrEqual(Math.max(...values));
      }),
    );
    expect(() => summariseRatings([rating('A', 6)])).toThrow(/whole step from 1 to 5/);
    expect(() => summariseRatings([rating('A', 2.5)])).toThrow(/whole step/);
  });

  it('has words at both ends and in the middle of every scale', () => {
    for (const key of EXPERIENCE_KEYS)
      for (const anchor of EXPERIENCE_SCALES[key].anchors) expect(anchor.length).toBeGreaterThan(8);
  });
});
