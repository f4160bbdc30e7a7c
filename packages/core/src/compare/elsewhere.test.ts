import fc from 'fast-check';
import { poolRatios, type RatioStudy } from './index.js';

const study = (ratio: number, factor = 1.1): RatioStudy => ({
  name: 'x',
  ratio,
  lower: ratio / factor,
  upper: ratio * factor,
});

describe('ratios of several testers', () => {
  it('that agree say so, and are as much known as their errors allow', () => {
    const pooled = poolRatios([study(0.9), study(0.91), study(0.89), study(0.9), study(0.9)])!;
    expect(pooled.ratio).toBeCloseTo(0.9, 3);
    expect(pooled.words).toBe('The testers agree within their own scatter.');
    // Five alike: a fifth of the variance, on t with four degrees of freedom.
    expect(Math.log(pooled.interval95.upper / pooled.ratio)).toBeCloseTo(
      (2.776 / 1.96) * (Math.log(1.1) / Math.sqrt(5)),
      3,
    );
  });
  it('that do not are told by how much, and that few are hardly known', () => {
    const { words, nextTester95 } = poolRatios([study(0.7, 1.03), study(0.9, 1.03), study(1.1, 1.03)])!;
    expect(words).toMatch(/differ by about \d\d % .*, most of what is seen.*With 3 testers that is hardly known/);
    expect(nextTester95!.upper).toBeGreaterThan(1.2);
  });
  it('turned over give the ratio turned over', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.5, max: 2, noNaN: true }), { minLength: 2, maxLength: 6 }), (ratios) => {
        const [straight, turned] = [
          poolRatios(ratios.map((r) => study(r)))!,
          poolRatios(ratios.map((r) => study(1 / r)))!,
        ];
        expect(turned.ratio).toBeCloseTo(1 / straight.ratio, 6);
        expect(turned.interval95.lower).toBeCloseTo(1 / straight.interval95.upper, 5);
      }),
    );
  });
  it('need two testers', () => expect(poolRatios([study(1)])).toBeNull());
});
