import { figureOverTime, figureVocabulary, type DatedRun } from './index.js';

const about = {
  words: figureVocabulary('netConsumption', 'Net consumption', 'less'),
  unit: 'Wh/km',
  smallestShare: 0.05,
} as const;
const run = (value: number, date: string, airTemperatureC: number | null = 12): DatedRun => ({
  value,
  date,
  outing: date,
  airTemperatureC,
});

describe('a figure over time', () => {
  const ridden = [
    run(9.0, '2025-04-02', 4),
    run(9.2, '2025-04-09', 8),
    run(9.1, '2025-05-02', 14),
    run(9.15, '2025-05-09', 16),
    run(8.9, '2025-05-20', 26),
  ];
  it('stands by month and by temperature, with an interval where there is more than one run', () => {
    const { byMonth, byTemperature } = figureOverTime(ridden, about);
    expect(byMonth.map(({ name, runs }) => [name, runs])).toEqual([
      ['2025-04', 2],
      ['2025-05', 3],
    ]);
    expect(byMonth[0]!.mean).toBeCloseTo(9.1, 9);
    // t(0.975, 1) · 0.1 = 1.27.
    expect(byMonth[0]!.interval!.upper).toBeCloseTo(9.1 + 1.2706, 3);
    expect(byTemperature.map(({ name }) => name)).toEqual([
      'below 5 °C',
      '5 to 15 °C',
      '15 to 25 °C',
      '25 °C and above',
    ]);
    expect(byTemperature[0]!.interval).toBeUndefined();
  });
  it('leaves runs of unknown temperature out of the bands, not out of the months', () => {
    const { byMonth, byTemperature } = figureOverTime([run(9, '2025-04-02', null), run(9.1, '2025-04-09')], about);
    expect(byMonth[0]!.runs).toBe(2);
    expect(byTemperature.reduce((sum, { runs }) => sum + runs, 0)).toBe(1);
  });
  it('says whether a year repeats the one before, by outings', () => {
    const later = [10.4, 10.6, 10.5, 10.45, 10.55].map((value, k) => run(value, `2026-04-0${k + 1}`));
    const { years } = figureOverTime([...ridden, ...later], about);
    expect(years).toHaveLength(1);
    expect(years[0]).toMatchObject({ year: '2026', before: '2025', pair: { verdict: 'better-and-matters' } });
    const alike = figureOverTime(
      [
        ...ridden,
        ...ridden.map((one) => ({ ...one, date: one.date.replace('2025', '2026'), outing: `26${one.date}` })),
      ],
      about,
    );
    expect(alike.years[0]!.pair.verdict).toBe('no-difference-that-matters');
  });
  it('compares no year that has a single run', () =>
    expect(figureOverTime([...ridden, run(9, '2026-01-01')], about).years).toEqual([]));
});
