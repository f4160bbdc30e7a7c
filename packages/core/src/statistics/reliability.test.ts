import { seededRandom, standardNormal } from '../numeric/index.js';
import {
  fitWeibull,
  kaplanMeier,
  meanCumulativeFunction,
  clusteredRate,
  evenCountsPValue,
  poissonRate,
  poissonRateRatio,
  powerLawProcess,
} from './index.js';

function valueOf<T>(
  outcome: { readonly ok: true; readonly value: T } | { readonly ok: false; readonly reason: string },
): T {
  if (!outcome.ok) throw new Error(outcome.reason);
  return outcome.value;
}
const near = (got: readonly number[], wanted: readonly number[], digits = 8): void =>
  wanted.forEach((value, k) => expect(Math.abs(got[k]! / value - 1)).toBeLessThan(10 ** -digits));

/** Expected numbers by R 4.2 (stats, MASS, survival), worked out apart from this code. */
describe('rates of faults', () => {
  it('exact interval of one rate', () => {
    const three = poissonRate({ events: 3, exposure: 4.2 });
    near([three.rate, ...three.interval], [0.714285714285714, 0.147302886403715, 2.08744596898627]);
    near(poissonRate({ events: 7, exposure: 3.6 }).interval, [0.781767514311, 4.006298711584], 6);
  });
  it('no fault in 900 km is fewer than 3.3 in 1 000 km', () => {
    const none = poissonRate({ events: 0, exposure: 0.9 });
    expect(none.rate).toBe(0);
    near([none.interval[1], none.upperBound], [4.09875494902, 3.32859141506]);
  });
  it('exact interval of a ratio, from one side where one has none', () => {
    const some = poissonRateRatio({ events: 3, exposure: 4.2 }, { events: 9, exposure: 5.1 });
    near(
      [some.ratio, ...some.interval, some.pValue],
      [0.404761904761905, 0.0704832536505474, 1.62189252623865, 0.245985300679324],
    );
    const more = poissonRateRatio({ events: 11, exposure: 3.1 }, { events: 2, exposure: 2.2 });
    near(
      [more.ratio, ...more.interval, more.pValue],
      [3.903225806452, 0.851868493175, 36.239848245498, 0.087632006467],
    );
    const none = poissonRateRatio({ events: 0, exposure: 2.5 }, { events: 5, exposure: 1.5 });
    near([none.interval[1], none.pValue], [0.65476746310953, 0.00741577148438]);
    expect(none.interval[0]).toBe(0);
    expect(poissonRateRatio({ events: 5, exposure: 1.5 }, { events: 0, exposure: 2.5 }).interval[1]).toBe(Infinity);
    expect(poissonRateRatio({ events: 0, exposure: 1 }, { events: 0, exposure: 1 })).toMatchObject({ pValue: 1 });
  });
  it('refuses what is no count and no exposure', () => {
    expect(() => poissonRate({ events: 1.5, exposure: 1 })).toThrow('whole number');
    expect(() => poissonRate({ events: 1, exposure: 0 })).toThrow();
  });
  it('uneven units: the exact interval is widened by the scatter between them', () => {
    const counts = [0, 1, 7, 2, 0, 12, 3, 1];
    const exposures = [0.8, 1.2, 1.5, 2, 0.6, 1.9, 1.1, 0.9];
    const units = counts.map((events, k) => ({ events, exposure: exposures[k]! }));
    const { rate, evenPValue, interval } = valueOf(clusteredRate(units));
    expect(rate).toBeCloseTo(2.6, 9);
    near([evenPValue], [0.00480883380987]);
    // By hand: √(8/7 · Σ(y − 2.6 e)²) ÷ 10 = 0.974; t on 7 is 2.3646.
    const error =
      Math.sqrt((8 / 7) * units.reduce((sum, { events, exposure }) => sum + (events - 2.6 * exposure) ** 2, 0)) / 10;
    near(interval, [2.6 * Math.exp((-2.364624 * error) / 2.6), 2.6 * Math.exp((2.364624 * error) / 2.6)], 5);
  });
  it('even units, and one or two of them, have the exact interval', () => {
    const units = [4, 5, 4, 5, 4, 5].map((events) => ({ events, exposure: 2 }));
    expect(valueOf(clusteredRate(units)).interval).toEqual(poissonRate({ events: 27, exposure: 12 }).interval);
    const two = [9, 0].map((events) => ({ events, exposure: 1 }));
    expect(valueOf(clusteredRate(two)).interval).toEqual(poissonRate({ events: 9, exposure: 2 }).interval);
    expect(clusteredRate([])).toMatchObject({ ok: false, reason: 'too-few' });
    expect(evenCountsPValue([0, 0, 0].map((events) => ({ events, exposure: 1 })))).toBe(1);
  });
});

describe('trend of faults over use', () => {
  const one = [55, 166, 205, 341, 488, 567, 731, 1308, 2050, 2453, 3115, 4017, 4596];
  it('one unit by the closed form', () => {
    const { shape, scale, shapeInterval } = valueOf(powerLawProcess([{ end: 5000, events: one }]));
    near([shape, scale, ...shapeInterval], [0.542977129841, 0.127493262883, 0.289112453574, 0.875512406644]);
  });
  it('units with different ends by maximum likelihood', () => {
    const { shape, scale } = valueOf(
      powerLawProcess([
        { end: 2000, events: [100, 400, 1500] },
        { end: 1200, events: [50, 800] },
        { end: 3000, events: [300, 2500, 2900] },
      ]),
    );
    near([shape, scale], [0.7086916876256, 0.0120880207172], 5);
  });
  it('units without any fault count as watched; other units of length change nothing', () => {
    const plain = valueOf(powerLawProcess([{ end: 5000, events: one }]));
    const two = valueOf(
      powerLawProcess([
        { end: 5000, events: one },
        { end: 5000, events: [] },
      ]),
    );
    expect(two.shape).toBeCloseTo(plain.shape, 9);
    expect(two.scale).toBeCloseTo(plain.scale / 2, 9);
    const inKm = valueOf(powerLawProcess([{ end: 5, events: one.map((at) => at / 1000) }]));
    expect(inKm.shape).toBeCloseTo(plain.shape, 9);
  });
  it('two faults carry no trend', () =>
    expect(powerLawProcess([{ end: 9, events: [1, 2] }])).toMatchObject({ ok: false }));
});

describe('mean cumulative function', () => {
  it('robust variance, units with different ends', () => {
    const points = meanCumulativeFunction([
      { end: 2000, events: [100, 400, 1500] },
      { end: 1200, events: [50, 800] },
      { end: 3000, events: [300, 2500, 2900] },
    ]);
    near(
      points.map(({ mean }) => mean),
      [1 / 3, 2 / 3, 1, 4 / 3, 5 / 3, 13 / 6, 19 / 6, 25 / 6],
    );
    near(
      [0, 1, 3, 4, 5, 7].map((k) => points[k]!.standardError),
      [0.272165526976, 0.272165526976, 0.272165526976, 0.272165526976, 0.604765029363, 0.604765029363],
    );
    expect(points[2]!.standardError).toBeCloseTo(0, 12);
  });
});

describe('lives of parts', () => {
  const lives = [420, 610, 733, 900, 1100, 1100, 1300, 1500, 1500, 1800, 2000, 2000];
  const failed = [1, 1, 0, 1, 1, 0, 1, 1, 1, 0, 0, 0];
  const lifetimes = lives.map((life, k) => ({ life, isFailed: failed[k] === 1 }));
  it('product limit with its interval', () => {
    const { points, median } = kaplanMeier(lifetimes);
    expect(median).toBe(1500);
    near(
      points.map(({ surviving }) => surviving),
      [0.916666666667, 0.833333333333, 0.740740740741, 0.648148148148, 0.54012345679, 0.324074074074],
    );
    near(points[5]!.interval, [0.0800953972889, 0.604762123047]);
    near(points[0]!.interval, [0.5389771805707, 0.9878255654]);
  });
  it('Weibull with profile intervals', () => {
    const fit = valueOf(fitWeibull(lifetimes));
    near([fit.shape, fit.scale, fit.tenthGone], [2.08048439688, 1753.52456141878, 594.50409661267], 6);
    near(fit.shapeInterval, [0.838350538833, 3.997859968531], 5);
    near(fit.tenthGoneInterval, [131.900938164, 1079.721345423], 4);
    expect(fitWeibull(lifetimes.slice(0, 1))).toMatchObject({ ok: false });
    expect(fitWeibull([5, 5, 5].map((life) => ({ life, isFailed: true })))).toMatchObject({ ok: false });
  });
  it('all alive: no median, all survive', () =>
    expect(kaplanMeier([{ life: 5, isFailed: false }])).toEqual({ points: [], median: null }));
});

describe('coverage on simulated faults', () => {
  const random = seededRandom(17);
  const exponential = (): number => -Math.log(1 - random());
  const poisson = (mean: number): number => {
    let n = 0;
    for (let t = exponential(); t < mean; t += exponential()) n++;
    return n;
  };
  const gamma = (shape: number): number => {
    if (shape < 1) return gamma(shape + 1) * random() ** (1 / shape);
    // Marsaglia & Tsang (2000).
    const d = shape - 1 / 3;
    for (;;) {
      const x = standardNormal(random);
      const v = (1 + x / Math.sqrt(9 * d)) ** 3;
      if (v > 0 && Math.log(random()) < 0.5 * x * x + d - d * v + d * Math.log(v)) return d * v;
    }
  };
  const held = (n: number, one: () => boolean): number => Array.from({ length: n }, one).filter(Boolean).length / n;
  it('rate and ratio: at least what is said', () => {
    expect(
      held(600, () => {
        const { interval } = poissonRate({ events: poisson(3), exposure: 2 });
        return interval[0] <= 1.5 && interval[1] >= 1.5;
      }),
    ).toBeGreaterThan(0.94);
    expect(
      held(400, () => {
        const { interval } = poissonRateRatio({ events: poisson(4), exposure: 2 }, { events: poisson(6), exposure: 1 });
        return interval[0] <= 1 / 3 && interval[1] >= 1 / 3;
      }),
    ).toBeGreaterThan(0.94);
  });
  it.each([
    ['eight, some far worse', 8, 1, 2],
    ['five, most without any', 5, 0.5, 1.5],
    ['four alike', 4, 1e3, 3],
    ['fifteen, some worse', 15, 0.5, 1],
  ])('conversions, %s: holds the mean where Poisson alone may not', (_, k, shape, mean) => {
    const trials = Array.from({ length: 300 }, () => {
      const units = Array.from({ length: k }, () => {
        // Rates of single conversions: Gamma of mean 1.
        const exposure = 0.5 + random();
        return { events: poisson((mean * exposure * gamma(shape)) / shape), exposure };
      });
      return units;
    }).filter((units) => units.some(({ events }) => events > 0));
    const holding = trials.filter((units) => {
      const { interval } = valueOf(clusteredRate(units));
      return interval[0] <= mean && interval[1] >= mean;
    }).length;
    expect(holding / trials.length).toBeGreaterThan(0.9);
  });
  it('trend: units with different ends', () =>
    expect(
      held(300, () => {
        const units = Array.from({ length: 5 }, () => {
          const end = 1000 + 4000 * random();
          const events = Array.from({ length: poisson(2 * (end / 3000) ** 1.6) }, () => end * random() ** (1 / 1.6));
          return { end, events };
        });
        const trend = powerLawProcess(units);
        return !trend.ok || (trend.value.shapeInterval[0] <= 1.6 && trend.value.shapeInterval[1] >= 1.6);
      }),
    ).toBeGreaterThan(0.92));
  it('mean cumulative number at 2 000 km', () => {
    const share = held(200, () => {
      const units = Array.from({ length: 12 }, () => {
        const end = 1500 + 2500 * random();
        return { end, events: Array.from({ length: poisson(end / 1000) }, () => end * random()) };
      });
      const last = meanCumulativeFunction(units)
        .filter(({ at }) => at <= 2000)
        .at(-1)!;
      return last.interval[0] <= 2 && last.interval[1] >= 2;
    });
    expect(share).toBeGreaterThan(0.86);
  });
  it('Weibull shape and tenth with half cut off', () => {
    const share = held(120, () => {
      const lifetimes = Array.from({ length: 14 }, () => {
        const life = 1000 * exponential() ** (1 / 2.2);
        const end = 700 + 600 * random();
        return { life: Math.min(life, end), isFailed: life < end };
      });
      const fit = fitWeibull(lifetimes);
      const tenth = 1000 * (-Math.log(0.9)) ** (1 / 2.2);
      return !fit.ok || (fit.value.tenthGoneInterval[0] <= tenth && fit.value.tenthGoneInterval[1] >= tenth);
    });
    expect(share).toBeGreaterThan(0.88);
  });
});
