import fc from 'fast-check';
import { presentSamples } from './present-samples.js';

it('are those with a value between two places, however far these reach', () =>
  fc.assert(
    fc.property(
      fc.array(fc.oneof(fc.double({ noNaN: true }), fc.constant(NaN)), { maxLength: 40 }),
      fc.nat(45),
      fc.integer({ min: -1, max: 60 }),
      (values, from, to) => {
        const y = Float64Array.from(values);
        const x = Float64Array.from(values, (_, k) => 10 * k);
        const places = values.flatMap((value, k) => (k >= from && k <= to && !Number.isNaN(value) ? [k] : []));
        const present = presentSamples(x, y, from, to);
        expect([...present.at]).toEqual(places);
        expect([...present.x]).toEqual(places.map((k) => 10 * k));
        expect([...present.y]).toEqual(places.map((k) => values[k]));
      },
    ),
  ));
