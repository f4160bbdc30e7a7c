import { seededRandom } from '../numeric/index.js';
import { studentTQuantile } from '../statistics/index.js';
import { learnFrom, learnGauge, type GaugeReading } from './learned-readings.js';

const random = seededRandom(771);
const between = (low: number, high: number): number => low + (high - low) * random();

describe('what is learned from values', () => {
  it('is the prior without any, and comes to the values with many', () => {
    const prior = { mean: 0.86, placeDeviation: 0.035, scatter: 0.015 };
    expect(learnFrom(prior, [])).toMatchObject({ n: 0, degreesOfFreedom: 8 });
    expect(learnFrom(prior, []).mean).toBeCloseTo(0.86, 12);
    expect(learnFrom(prior, []).standardDeviation).toBeCloseTo(Math.hypot(0.035, 0.015), 9);
    const many = learnFrom(
      prior,
      Array.from({ length: 400 }, (_, k) => 0.8 + 0.01 * Math.sin(k)),
    );
    expect(many.mean).toBeCloseTo(0.8, 2);
    expect(many.standardDeviation).toBeLessThan(0.012);
  });
  it('does not depend on the order, and scales with the unit', () => {
    const prior = { mean: 100, placeDeviation: 20, scatter: 9 };
    const values = [90, 130, 104];
    const [a, b] = [learnFrom(prior, values), learnFrom(prior, [...values].reverse())];
    expect(a.mean).toBeCloseTo(b.mean, 12);
    const scaled = learnFrom(
      { mean: 1000, placeDeviation: 200, scatter: 90 },
      values.map((value) => 10 * value),
    );
    expect(scaled.standardDeviation).toBeCloseTo(10 * a.standardDeviation, 9);
  });
});

describe('a gauge seen beside a logger', () => {
  /** Bars that go out anywhere within ±10 % of the pack about their place. */
  function gauge(usableWh: number, bars: number) {
    const edges = Array.from({ length: bars }, (_, k) =>
      Math.min(0.99, Math.max(0.01, k / bars + between(-0.1, 0.1))),
    ).sort((a, b) => a - b);
    const shownAt = (usedWh: number): number => edges.filter((edge) => 1 - usedWh / usableWh > edge).length / bars;
    return { shownAt };
  }
  it('says what the next reading means, in Wh: held 90 to 100 times in 100, and narrower the more was seen', () => {
    for (const [metered, widest] of [
      [2, 1],
      [30, 0.95],
    ] as const) {
      let [held, of, width, plain] = [0, 0, 0, 0];
      for (let k = 0; k < 300; k++) {
        const usableWh = between(300, 700);
        const bars = 5;
        const { shownAt } = gauge(usableWh, bars);
        const readings = Array.from({ length: metered }, (): GaugeReading => {
          const usedWh = between(0.1, 0.95) * usableWh;
          return {
            shown: shownAt(usedWh),
            usedWh: usedWh * (1 + between(-0.015, 0.015)),
            isEdge: false,
            stepShare: 0.2,
          };
        });
        const levels = learnGauge(readings, { stepShare: 1 / bars, usableWh: usableWh * (1 + between(-0.07, 0.07)) });
        const usedWh = between(0.1, 0.95) * usableWh;
        const level = levels.find(({ shown }) => Math.abs(shown - shownAt(usedWh)) < 0.01);
        if (!level) continue;
        const half = studentTQuantile(0.975, level.degreesOfFreedom) * level.standardDeviation;
        of++;
        if (Math.abs(level.mean - usedWh) <= half) held++;
        width += half / usableWh;
        plain += studentTQuantile(0.975, 1e6) * Math.hypot(0.2 / Math.sqrt(12), 0.1 / Math.sqrt(3));
      }
      expect([metered, held / of > 0.9]).toEqual([metered, true]);
      if (widest < 1) expect(width / plain).toBeLessThan(widest);
    }
  });
  it('places a bar that goes out far better than even bars do, from three rides on', () => {
    let [held, of, width] = [0, 0, 0];
    for (let k = 0; k < 300; k++) {
      const usableWh = between(300, 700);
      const edge = Math.min(0.95, Math.max(0.05, 0.6 + between(-0.1, 0.1)));
      const at = (): number => (1 - edge + 0.02 * (random() + random() + random() - 1.5)) * usableWh;
      const readings = Array.from({ length: 3 }, (): GaugeReading => ({
        shown: 0.6,
        usedWh: at(),
        isEdge: true,
        stepShare: 0.2,
      }));
      const [level] = learnGauge(readings, { stepShare: 0.2, usableWh: usableWh * (1 + between(-0.07, 0.07)) });
      const usedWh = at();
      const half = studentTQuantile(0.975, level!.degreesOfFreedom) * level!.standardDeviation;
      of++;
      if (Math.abs(level!.mean - usedWh) <= half) held++;
      width += half / usableWh;
    }
    expect(held / of).toBeGreaterThan(0.93);
    expect(width / of).toBeLessThan((0.8 * (1.96 * 0.1)) / Math.sqrt(3));
  });
  it('is not taught by another gauge on the same pack', () => {
    const lights: GaugeReading[] = [{ shown: 0.75, usedWh: 120, isEdge: false, stepShare: 0.25 }];
    expect(learnGauge(lights, { stepShare: 0.2, usableWh: 500 })).toEqual([]);
    expect(learnGauge(lights, { stepShare: 0.25, usableWh: 500 })).toHaveLength(1);
  });
  it('never gives more used for more bars', () => {
    for (let k = 0; k < 50; k++) {
      const readings = Array.from({ length: 8 }, () => ({
        shown: Math.round(between(0, 4)) / 4,
        usedWh: between(0, 400),
        isEdge: false,
        stepShare: 0.25,
      }));
      const used = learnGauge(readings, { stepShare: 0.25, usableWh: 400 }).map(({ mean }) => mean);
      expect(used).toEqual([...used].sort((a, b) => a - b));
    }
  });
});
