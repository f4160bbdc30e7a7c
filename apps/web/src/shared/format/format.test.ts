import fc from 'fast-check';
import { decimalsFor, formatClock, formatFigure, formatQuantity, keepTogether, showFigure } from './format-quantity.js';
import { parseQuantity } from './parse-quantity.js';

describe('how figures are written', () => {
  it.each([
    [9.6234, 0.181, 'Wh/km', 'metric', '9.62 ± 0.18 Wh/km'],
    [9.6234, 0.0181, 'Wh/km', 'metric', '9.623 ± 0.018 Wh/km'],
    [57.3, 2.41, 'km', 'metric', '57.3 ± 2.4 km'],
    [1000, 24, 'W', 'metric', '1000 ± 24 W'],
    [10, 0.5, 'km', 'imperial', '6.21 ± 0.31 mi'],
    [10, 0.5, 'Wh/km', 'imperial', '16.09 ± 0.80 Wh/mi'],
    [1635, 3, 's', 'metric', '27.250 ± 0.050 min'],
    [20, 1, '°C', 'imperial', '68.0 ± 1.8 °F'],
  ] as const)('%d ± %d %s (%s) is "%s"', (value, u, unit, system, text) =>
    expect(formatFigure(value, u, unit, system)).toBe(text),
  );

  it('never shows more than two digits of the uncertainty', () =>
    fc.assert(
      fc.property(fc.double({ min: 1e-4, max: 1e3, noNaN: true }), (u) => {
        const { uncertainty } = showFigure(100, u, 'Wh', 'metric');
        const digits = uncertainty.replace('.', '').replace(/^0+/, '');
        if (u < 100) expect(digits.length).toBeLessThanOrEqual(3);
        expect(Math.abs(Number(uncertainty) - u)).toBeLessThanOrEqual(0.06 * u + 0.5 * (u >= 10 ? 1 : 0));
      }),
    ));

  it('writes plain quantities, clocks and torn-apart numbers', () => {
    expect(formatQuantity(9.2, 'km', 'imperial')).toBe('5.72 mi');
    expect([formatClock(59.6), formatClock(3725)]).toEqual(['1:00', '1:02:05']);
    expect(keepTogether('uses 15 % less than D5, 48 V hub')).toBe('uses 15\u00a0% less than D5, 48\u00a0V hub');
    expect(decimalsFor(0)).toBe(2);
  });
});

describe('what a person types', () => {
  it.each([
    ['23.5', 'km/h', 'km/h', 23.5],
    ['23,5', 'km/h', 'km/h', 23.5],
    ['28 mph', 'km/h', 'km/h', 45.0616],
    ['9.2 km', 'm', 'm', 9200],
    ['10', 'km/h', 'mph', 16.0934],
    ['7 %', '1', '%', 0.07],
    ['7', '1', '%', 0.07],
    ['-5', '°C', '°C', -5],
  ] as const)('%s in %s (shown in %s)', (text, unit, shown, wanted) =>
    expect(parseQuantity(text, unit, shown)).toBeCloseTo(wanted, 3),
  );
  it.each(['abc', '5 V', '1,2,3', '--', '5 constructor'])('"%s" is no speed', (text) =>
    expect(parseQuantity(text, 'km/h', 'km/h')).toBeNaN(),
  );
  it('an empty field is unknown, not zero', () => expect(parseQuantity('  ', 'km', 'km')).toBeUndefined());
});
