import type { ComparisonDto } from '@ebrix/contract';
import { stripsOf } from './pair-scale.js';

const comparison = (kind: 'absolute' | 'relative', value: number): ComparisonDto => ({
  setups: [
    { name: 'A', n: 5, mean: 9, median: 9, medianAbsoluteDeviation: 0.1, quartiles: [8.9, 9, 9.1] },
    { name: 'B', n: 5, mean: 10, median: 10, medianAbsoluteDeviation: 0.1, quartiles: [9.9, 10, 10.1] },
  ],
  better: 'less',
  design: 'independent',
  method: { name: "Welch's t", reason: '' },
  pairs: [
    {
      a: 'A',
      b: 'B',
      pValue: 0.01,
      verdict: 'better-and-matters',
      sentence: '',
      difference: { estimate: -1, lower: -1.5, upper: -0.5, standardError: 0.2, degreesOfFreedom: 8, t: -5 },
      ratio: { estimate: 0.9, lower: 0.85, upper: 0.95, logStandardError: 0.02, degreesOfFreedom: 8, pValue: 0.01 },
    },
  ],
  sentences: [],
  smallestDifference: { kind, value },
  seed: 1,
  notes: [],
});

describe('a pair as a strip', () => {
  it('is given in per cent with the band of what does not matter', () => {
    const [strip] = stripsOf(comparison('relative', 0.05), 'percent', 'Wh/km', 'metric');
    expect(strip).toMatchObject({
      estimate: expect.closeTo(-10, 9),
      lower: expect.closeTo(-15, 9),
      band: [expect.closeTo(-5, 9), expect.closeTo(5, 9)],
    });
  });
  it('is given in the unit of the person, the band with it', () => {
    const [strip] = stripsOf(comparison('relative', 0.05), 'unit', 'Wh/km', 'imperial');
    expect(strip!.estimate).toBeCloseTo(-1.609344, 6);
    expect(strip!.band[1]).toBeCloseTo(0.5 * 1.609344, 6);
  });
  it('turns a band in the unit into per cent of the other setup', () => {
    const { band } = stripsOf(comparison('absolute', 0.4), 'percent', 'Wh/km', 'metric')[0]!;
    expect(band[0]).toBeCloseTo(-4, 9);
    expect(band[1]).toBeCloseTo(4, 9);
  });
  it('goes in the direction of its sentence, on the base of it: the better against the other', () => {
    const more = { ...comparison('relative', 0.05), better: 'more' as const };
    const [strip] = stripsOf(more, 'percent', 'Wh/km', 'metric');
    expect(strip).toMatchObject({ a: 'B', b: 'A', estimate: expect.closeTo(100 * (1 / 0.9 - 1), 9) });
    expect(strip!.lower).toBeCloseTo(100 * (1 / 0.95 - 1), 9);
    expect(strip!.band[1]).toBeCloseTo(100 * (1 / 0.95 - 1), 9);
    expect(stripsOf(more, 'unit', 'Wh/km', 'metric')[0]).toMatchObject({ a: 'B', estimate: 1, lower: 0.5, upper: 1.5 });
  });
  it('is not drawn where the two cannot be told apart', () => {
    const whole = comparison('relative', 0.05);
    const { difference: _difference, ratio: _ratio, pValue: _p, ...pair } = whole.pairs[0]!;
    const refused = {
      ...pair,
      verdict: 'cannot-tell' as const,
      refusal: { because: 'each has its own day', mend: '' },
    };
    expect(stripsOf({ ...whole, pairs: [refused] }, 'percent', 'Wh/km', 'metric')).toEqual([]);
  });
  it('is left out in per cent where there is no ratio', () => {
    const plain = comparison('absolute', 0.4);
    const { ratio: _ratio, ...pair } = plain.pairs[0]!;
    expect(stripsOf({ ...plain, pairs: [pair] }, 'percent', 'Wh/km', 'metric')).toEqual([]);
  });
});
