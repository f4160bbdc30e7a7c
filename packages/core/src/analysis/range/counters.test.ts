import fc from 'fast-check';
import { readCounter } from './counters.js';

const read = (values: readonly number[]) => readCounter(Float64Array.from(values));

it('a counter tells what it rose by, wherever it began', () =>
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 5000 }),
      fc.array(fc.integer({ min: 0, max: 3 }), { minLength: 5, maxLength: 200 }),
      (from, steps) => {
        const values = [from];
        for (const step of steps) values.push(values.at(-1)! + step);
        const sum = values.at(-1)! - from;
        expect(read(values)?.net ?? 0).toBe(sum);
      },
    ),
  ));
it('a reset on the way loses at most what was counted in it', () => {
  const values = [...Array.from({ length: 50 }, (_, k) => 400 + k), ...Array.from({ length: 50 }, (_, k) => k)];
  expect(read(values)).toMatchObject({ net: 98, resets: 1, falls: 0 });
  // Even as the first thing that happens.
  expect(read([400, ...Array.from({ length: 50 }, (_, k) => k)])).toMatchObject({ net: 49, resets: 1 });
});
it('energy fed back is a fall, what is left over falls alone, missing readings are passed over', () => {
  expect(read([0, 5, 10, 8, 15, NaN, 20])).toMatchObject({ net: 20, rises: 22, falls: 2, resets: 0 });
  const left = Array.from({ length: 100 }, (_, k) => 500 - 2 * k);
  expect(read(left)).toMatchObject({ net: 198, resolution: 2, resets: 0 });
  // Down to nothing is no reset where every step is like it.
  expect(read([5, 4, 3, 2, 1, 0])).toMatchObject({ net: 5, resets: 0 });
  expect(read([7, 7, NaN, 7])).toBeUndefined();
  expect(read([])).toBeUndefined();
});
