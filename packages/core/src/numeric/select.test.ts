import fc from 'fast-check';
import { median, select } from './index.js';

const numbers = fc.array(fc.oneof(fc.integer({ min: -3, max: 3 }), fc.double(), fc.constant(NaN)), {
  minLength: 1,
  maxLength: 400,
});

describe('the number of a rank', () => {
  it('is the one that sorting puts there, however many there are and whatever is among them', () =>
    fc.assert(
      fc.property(numbers, fc.nat(), (values, at) => {
        const rank = at % values.length;
        const before = values.slice();
        const sorted = Float64Array.from(values).sort();
        const [found, next] = select(values, rank, true);
        // A zero below nought and one above it are one number.
        expect([found + 0, next + 0]).toEqual([sorted[rank]! + 0, (sorted[rank + 1] ?? NaN) + 0]);
        expect(values).toEqual(before);
      }),
    ));
  it('is found among many that are alike, in order or against it', () => {
    const many = Array.from({ length: 100_000 }, (_, k) => k);
    for (const values of [many, many.slice().reverse(), many.map((k) => k % 3), many.map(() => 7)])
      expect(median(values)).toBe(
        (values.toSorted((a, b) => a - b)[49_999]! + values.toSorted((a, b) => a - b)[50_000]!) / 2,
      );
  });
});
