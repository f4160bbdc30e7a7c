import fc from 'fast-check';
import { amount, plainText, say } from './index.js';

describe('a sentence', () => {
  it('keeps its words and quantities in order', () =>
    expect(say`gap ${amount(3, 'mm')} of ${2} washers, ${'left'}`).toEqual([
      'gap ',
      { value: 3, unit: 'mm', digits: 4 },
      ' of ',
      '2',
      ' washers, ',
      'left',
    ]));
  it('has no empty words', () => {
    expect(say`${amount(1, 'km')}${amount(2, 'km')}`).toHaveLength(2);
    expect(say``).toEqual([]);
  });
  it('reads the same as its template where nothing is converted', () =>
    fc.assert(
      fc.property(fc.string(), fc.integer({ min: -9999, max: 9999 }), fc.string(), (before, value, after) => {
        expect(plainText([before, amount(value, 'km', 5), after])).toBe(`${before}${value} km${after}`);
      }),
    ));
  it('says a bare quantity without its unit, and one of no unit without a blank', () => {
    expect(plainText([{ ...amount(24.126, 'km/h', 5), isBare: true }])).toBe('24.126');
    expect(plainText(['ratio ', amount(1.5, '1')])).toBe('ratio 1.5');
  });
  it('has no more digits than were asked for', () =>
    expect(plainText([amount(12345.678, 'm', 3), ' and ', amount(0.0012345, 'm', 2)])).toBe('12300 m and 0.0012 m'));
});
