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

describe('local lines that move along', () => {
  /** The line of each window on its own, summed about its own mean. */
  function oneByOne(x: readonly number[], y: readonly number[], width: number) {
    return x.map((centre) => {
      const at = x.flatMap((value, k) => (value >= centre - width / 2 && value <= centre + width / 2 ? [k] : []));
      const [meanX, meanY] = [x, y].map((list) => at.reduce((sum, k) => sum + list[k]!, 0) / at.length) as [
        number,
        number,
      ];
      const sxx = at.reduce((sum, k) => sum + (x[k]! - meanX) ** 2, 0);
      const slope =
        sxx > 1e-12 * width * width ? at.reduce((sum, k) => sum + (x[k]! - meanX) * (y[k]! - meanY), 0) / sxx : 0;
      const squares = at.reduce((sum, k) => sum + (y[k]! - meanY - slope * (x[k]! - meanX)) ** 2, 0);
      return {
        level: meanY + slope * (centre - meanX),
        slope,
        error: sxx > 1e-12 * width * width && at.length > 2 ? Math.sqrt(squares / (at.length - 2) / sxx) : Infinity,
      };
    });
  }
  it('are those of each window on its own, also far from zero, over gaps and at a standstill', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(0, 0.2, 0.2, 0.2, 1, 40), fc.double({ min: -3, max: 3, noNaN: true })), {
          minLength: 3,
          maxLength: 160,
        }),
        fc.constantFrom(0, 1e5),
        fc.constantFrom(1, 6, 50),
        (steps, far, width) => {
          const x: number[] = [];
          const y: number[] = [];
          steps.forEach(([step, noise], k) => {
            x.push((x[k - 1] ?? far) + step);
            y.push(far + 0.3 * x[k]! + noise);
          });
          const { level, slope, slopeStandardError } = fitLocalLines(x, y, width);
          oneByOne(x, y, width).forEach((wanted, k) => {
            expect(Math.abs(level[k]! - wanted.level)).toBeLessThan(1e-7);
            expect(Math.abs(slope[k]! - wanted.slope)).toBeLessThan(1e-6);
            if (wanted.error === Infinity) expect(slopeStandardError[k]).toBe(Infinity);
            else expect(Math.abs(slopeStandardError[k]! - wanted.error)).toBeLessThan(1e-5);
          });
        },
      ),
    );
  });
});
