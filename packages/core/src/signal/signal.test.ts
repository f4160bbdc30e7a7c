import fc from 'fast-check';
import { seededRandom, standardNormal } from '../numeric/index.js';
import { estimateNoise, estimateResolution, findHampelOutliers, fitLocalLines } from './index.js';

const OPTIONS = { halfWindow: 3, threshold: 3, floor: 0.5 };

describe('the Hampel filter', () => {
  it('finds a single wild sample wherever it stands', () =>
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 99 }), fc.constantFrom(-40, 40), (at, size) => {
        const values = Array.from({ length: 100 }, (_, k) => 20 + Math.sin(k / 9) + (k === at ? size : 0));
        expect(findHampelOutliers(values, OPTIONS)).toEqual([at]);
      }),
    ));

  it('leaves steps, ramps and constants alone', () => {
    const step = Array.from({ length: 60 }, (_, k) => (k < 30 ? 5 : 25));
    const ramp = Array.from({ length: 60 }, (_, k) => 3 * k);
    for (const values of [step, ramp, new Array<number>(60).fill(7)])
      expect(findHampelOutliers(values, OPTIONS)).toEqual([]);
  });

  it('looks past missing samples', () => {
    const values = Array.from({ length: 50 }, (_, k) => (k % 7 === 3 ? NaN : 10));
    values[20] = 90;
    expect(findHampelOutliers(values, OPTIONS)).toEqual([20]);
  });

  it('never takes what lies within the floor for a spike', () => {
    const random = seededRandom(1);
    const values = Array.from({ length: 500 }, () => 0.49 * (2 * random() - 1));
    expect(findHampelOutliers(values, { ...OPTIONS, floor: 1 })).toEqual([]);
  });
});

describe('what a sensor is worth', () => {
  it('finds the noise on a smooth signal, not the signal', () => {
    const random = seededRandom(2);
    const values = Array.from({ length: 5000 }, (_, k) => 30 * Math.sin(k / 400) + 0.2 * standardNormal(random));
    expect(Math.abs(estimateNoise(values) - 0.2)).toBeLessThan(0.02);
  });
  it('finds the step a display counts in', () => {
    const values = Array.from({ length: 400 }, (_, k) => Math.round((20 + 5 * Math.sin(k / 30)) * 2) / 2);
    expect(estimateResolution(values)).toBeCloseTo(0.5, 9);
    expect(estimateResolution([3, 3, 3])).toBe(0);
  });
});

describe('lines through a window', () => {
  it('follow a line exactly, with no doubt left', () => {
    const x = Array.from({ length: 80 }, (_, k) => k * 2.5);
    const { level, slope } = fitLocalLines(
      x,
      x.map((v) => 4 + 0.06 * v),
      50,
    );
    expect(level[40]).toBeCloseTo(4 + 0.06 * x[40]!, 9);
    for (const s of slope) expect(s).toBeCloseTo(0.06, 9);
  });

  it('state a standard error that covers the slope', () => {
    const random = seededRandom(6);
    let held = 0;
    const trials = 300;
    for (let k = 0; k < trials; k++) {
      const x = Array.from({ length: 40 }, (_, j) => j * 2);
      const { slope, slopeStandardError } = fitLocalLines(
        x,
        x.map((v) => 0.04 * v + standardNormal(random)),
        50,
      );
      if (Math.abs(slope[20]! - 0.04) < 2.07 * slopeStandardError[20]!) held++;
    }
    expect(held / trials).toBeGreaterThan(0.9);
    expect(held / trials).toBeLessThan(0.99);
  });

  it('say nothing of a slope at a standstill', () => {
    const { slope, slopeStandardError } = fitLocalLines([5, 5, 5], [1, 2, 3], 50);
    expect([slope[1], slopeStandardError[1]]).toEqual([0, Infinity]);
  });
});
