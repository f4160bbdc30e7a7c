import fc from 'fast-check';
import { say } from '../units/index.js';
import { derivationQuantity, toWarning } from './figure.js';
import { makeFigure, type Contribution } from './index.js';

const figure = (contributions: readonly Contribution[], value = 10) =>
  makeFigure({
    key: 'x',
    label: 'X',
    value,
    unit: 'Wh',
    contributions,
    n: 5,
    formula: '',
    substituted: '',
    inputs: [],
  });

describe('a measured value', () => {
  it('keeps a derivation with its quantities only where all of them can be stored, and its text always', () => {
    const derive = (kmh: number) =>
      makeFigure({
        ...figure([]).derivation,
        key: 'x',
        label: 'X',
        value: 1,
        unit: 'km/h',
        n: 1,
        substituted: say`${derivationQuantity(kmh, 'km/h')}`,
      }).derivation;
    expect(derive(24.5)).toMatchObject({ substituted: '24.5 km/h', said: [{ value: 24.5, unit: 'km/h' }] });
    for (const odd of [NaN, Infinity]) {
      expect(derive(odd).said).toBeUndefined();
      expect(toWarning('odd', say`${derivationQuantity(odd, 'km')}`).said).toBeUndefined();
      expect(toWarning('odd', say`${derivationQuantity(odd, 'km')}`).message).toContain('km');
    }
  });
  it('adds contributions as a root of squares, with shares that make one', () =>
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.001, max: 5, noNaN: true }), { minLength: 1, maxLength: 6 }), (sizes) => {
        const { standardUncertainty, derivation } = figure(
          sizes.map((u, k) => ({ source: String(k), standardUncertainty: u })),
        );
        expect(standardUncertainty).toBeCloseTo(Math.hypot(...sizes), 10);
        expect(derivation.contributions.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 10);
        expect(derivation.contributions[0]!.standardUncertainty).toBe(Math.max(...sizes));
      }),
    ));

  it('covers 95 % by the normal for instruments and by t for few readings', () => {
    const half = (c: Contribution): number => figure([c]).interval95[1] - 10;
    expect(half({ source: 'gain', standardUncertainty: 1 })).toBeCloseTo(1.959964, 4);
    // t with 4 degrees of freedom, from tables: 2.776.
    expect(half({ source: 'scatter', standardUncertainty: 1, degreesOfFreedom: 4 })).toBeCloseTo(2.776, 3);
  });

  it('weighs degrees of freedom after Welch and Satterthwaite', () => {
    const { interval95 } = figure([
      { source: 'scatter', standardUncertainty: 1, degreesOfFreedom: 4 },
      { source: 'gain', standardUncertainty: 1 },
    ]);
    // Effective degrees of freedom: (1 + 1)² / (1/4) = 16; t = 2.1199.
    expect(interval95[1] - 10).toBeCloseTo(2.1199 * Math.SQRT2, 3);
  });
});
