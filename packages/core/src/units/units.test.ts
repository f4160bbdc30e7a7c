import fc from 'fast-check';
import {
  convertUnit,
  convertUnitDifference,
  displayUnit,
  isUnitName,
  toSi,
  fromSi,
  UNITS,
  type Joules,
  type Metres,
  type UnitName,
} from './index.js';

describe('units', () => {
  it.each([
    [1, 'mi', 'km', 1.609344],
    [32, '°F', '°C', 0],
    [212, '°F', '°C', 100],
    [0, '°C', 'K', 273.15],
    [36, 'km/h', 'm/s', 10],
    [1, 'Wh/km', 'Wh/mi', 1.609344],
    [1, 'kWh', 'J', 3.6e6],
    [10, 'lb', 'kg', 4.5359237],
    [1, 'kn', 'km/h', 1.852],
  ] as const)('%d %s in %s', (value, from, to, wanted) => expect(convertUnit(value, from, to)).toBeCloseTo(wanted, 9));

  it('come back to themselves', () =>
    fc.assert(
      fc.property(
        fc.constantFrom(...(Object.keys(UNITS) as UnitName[])),
        fc.double({ min: -1e4, max: 1e4, noNaN: true }),
        (unit, value) => {
          expect(fromSi(toSi(value, unit), unit)).toBeCloseTo(value, 6);
        },
      ),
    ));

  it('convert a difference of temperatures without the offset', () =>
    expect(convertUnitDifference(1, '°C', '°F')).toBeCloseTo(1.8, 12));
  it('stay as they are where imperial has no word', () =>
    expect([displayUnit('Wh', 'imperial'), displayUnit('km', 'imperial')]).toEqual(['Wh', 'mi']));
  it('are no names of objects', () => expect(isUnitName('constructor')).toBe(false));
  it('keep metres and joules apart at the seams', () => {
    const metres = 5 as Metres;
    // @ts-expect-error metres are not joules
    const joules: Joules = metres;
    expect(joules).toBe(5);
  });
});
