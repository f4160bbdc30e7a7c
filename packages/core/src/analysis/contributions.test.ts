import fc from 'fast-check';
import { currentGain, systematic, voltageGain, wheelCircumference } from './contributions.js';
import { makeFigure } from './figure.js';
import { DEFAULT_INSTRUMENT } from './instrument.js';

const parts = [
  ['voltageGain', voltageGain],
  ['currentGain', currentGain],
  ['distanceGain', wheelCircumference],
] as const;

describe.each(parts)('what %s adds', (limit, contribution) => {
  it('is the limit over √3 of the value, as of a rectangular distribution', () => {
    // 60 Wh read with a limit of 1 %: 0.6 Wh to either side.
    const { standardUncertainty } = contribution({ ...DEFAULT_INSTRUMENT, [limit]: 0.01 }, 60);
    expect(standardUncertainty).toBeCloseTo(0.6 / Math.sqrt(3), 10);
  });

  it('is systematic: more runs with the same instrument do not shrink it', () => {
    expect(contribution(DEFAULT_INSTRUMENT, 60).isSystematic).toBe(true);
  });

  it('grows in proportion with value and limit, and vanishes with either', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 0.2, noNaN: true }),
        fc.double({ min: 0, max: 1e5, noNaN: true }),
        fc.double({ min: 0, max: 10, noNaN: true }),
        (gain, value, factor) => {
          const of = (g: number, v: number): number =>
            contribution({ ...DEFAULT_INSTRUMENT, [limit]: g }, v).standardUncertainty;
          expect(of(gain, factor * value)).toBeCloseTo(factor * of(gain, value), 6);
          expect(of(factor * gain, value)).toBeCloseTo(factor * of(gain, value), 6);
          expect([of(0, value), of(gain, 0)]).toEqual([0, 0]);
        },
      ),
    ));
});

describe('contributions together', () => {
  it('add in squares, whatever their order, and their shares make one whole', () => {
    const contributions = [systematic('voltage gain', 3), systematic('current gain', 4)];
    const of = (list: typeof contributions) =>
      makeFigure({
        key: 'energyOut',
        label: 'Energy out',
        value: 60,
        unit: 'Wh',
        n: 1,
        formula: '∫ V · I dt',
        substituted: '60 Wh',
        inputs: [],
        contributions: list,
      });
    const figure = of(contributions);
    expect(figure.standardUncertainty).toBeCloseTo(5, 10);
    expect(of([...contributions].reverse()).standardUncertainty).toBeCloseTo(5, 10);
    const shares = figure.derivation.contributions.map(({ share }) => share);
    expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 10);
  });
});
