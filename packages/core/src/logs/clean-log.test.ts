import { cleanLog, readLog, toCsv, csvCell, sanitiseFileName, haversineM } from './index.js';
import { seededRandom, standardNormal } from '../numeric/index.js';

const clean = (header: string, rows: readonly (readonly (number | string)[])[]) => {
  const raw = readLog(new TextEncoder().encode([header, ...rows.map((row) => row.join(','))].join('\n')));
  if (!raw.ok) throw new Error(raw.problem.message);
  const before = structuredClone(raw.value);
  const log = cleanLog(raw.value);
  if (!log.ok) throw new Error(log.problem.message);
  expect(raw.value).toEqual(before);
  // The same where the columns may be used up.
  expect(cleanLog(raw.value, { isGivenAway: true })).toEqual(log);
  return log.value;
};
const wobble = (t: number): number => 20 + 2 * Math.sin(t / 15) + 0.05 * Math.sin(t * 7.3);

describe('cleaning', () => {
  it('takes spikes out, tells where, and leaves the raw value readable', () => {
    const rows = Array.from({ length: 300 }, (_, t) => [t, t === 100 ? 88 : wobble(t)]);
    const { channels, report } = clean('time (s),speed (km/h)', rows);
    expect(report.spikes).toEqual([
      { channel: 'speed', count: 1, timesS: [100], values: [expect.closeTo(88 / 3.6, 6)] },
    ]);
    expect(channels.speed![100]).toBeNaN();
    expect(channels.speed![99]).toBeCloseTo(wobble(99) / 3.6, 6);
  });

  it('does not take ordinary noise for spikes because the bike stood for most of the log', () => {
    const random = seededRandom(7);
    const rows = Array.from({ length: 3000 }, (_, t) => [
      t,
      (t < 1200 ? 22 + 0.1 * standardNormal(random) : 0).toFixed(2),
      (t < 1200 ? 50 + 0.03 * standardNormal(random) : 52).toFixed(2),
    ]);
    rows[500]![1] = 60;
    const { spikes } = clean('time (s),speed (km/h),voltage (V)', rows).report;
    expect(spikes.map(({ channel, timesS }) => [channel, timesS])).toEqual([['speed', [500]]]);
  });

  it('does not take hard braking or a steep current for spikes', () => {
    const rows = Array.from({ length: 200 }, (_, t) => [
      t,
      t < 100 ? 25 : Math.max(0, 25 - 12 * (t - 99)),
      t % 50 < 3 ? 15 : 4,
    ]);
    expect(clean('time (s),speed (km/h),current (A)', rows).report.spikes).toEqual([]);
  });

  it('marks gaps and does not bridge them', () => {
    const rows = Array.from({ length: 200 }, (_, t) => [t < 100 ? t : t + 30, wobble(t)]);
    expect(clean('time (s),speed (km/h)', rows).report.gaps).toEqual([{ startS: 99, endS: 130 }]);
  });

  it('drops samples whose time stands still or goes back, and counts them', () => {
    const rows = [
      [0, 20],
      [1, 20],
      [1, 21],
      [2, 20],
      [1.5, 22],
      [3, 20],
      [4, 20],
    ];
    const { report, timeS } = clean('time (s),speed (km/h)', rows);
    // Five of the seven times increase; which of 2 and 1.5 is wrong cannot be worked out.
    expect([0, 1, 3, 4].every((t) => timeS.includes(t))).toBe(true);
    expect(timeS).toHaveLength(5);
    expect(report.droppedTimes).toBe(2);
  });

  it('moves on the times after a clock that was set back, and says so', () => {
    const rows = Array.from({ length: 200 }, (_, k) => [k < 100 ? k : k - 30, 18 + (k % 3)]);
    const { report, timeS } = clean('time (s),speed (km/h)', rows);
    expect(report).toMatchObject({ droppedTimes: 0, samplesKept: 200, clockSteps: [{ backS: 29 }] });
    expect(timeS.at(-1)).toBe(199);
    for (let k = 1; k < timeS.length; k++) expect(timeS[k]! - timeS[k - 1]!).toBe(1);
  });
  it('leaves a late sample and a wild one as they are', () => {
    const late = Array.from({ length: 100 }, (_, k) => [k === 50 ? 20 : k, 18]);
    expect(clean('time (s),speed (km/h)', late).report).toMatchObject({ droppedTimes: 1, clockSteps: [] });
  });
  it('drops the one wild time, not the ride after it', () => {
    const rows = Array.from({ length: 100 }, (_, t) => [t === 10 ? 99_999 : t, 20]);
    expect(clean('time (s),speed (km/h)', rows).report).toMatchObject({ droppedTimes: 1, samplesKept: 99 });
  });

  it('marks a sensor that sticks while others move', () => {
    const rows = Array.from({ length: 300 }, (_, t) => [t, wobble(t), t > 100 && t < 200 ? 48 : 50 - t / 100]);
    expect(clean('time (s),speed (km/h),voltage (V)', rows).report.stuck).toEqual([
      expect.objectContaining({ channel: 'voltage' }),
    ]);
  });

  it('offers the right circumference when the wheel runs ahead of the positions', () => {
    const rows = Array.from({ length: 1200 }, (_, t) => [t, 20 * 1.05, 31.4 + (t * 20) / 3.6 / 111_195, -45.2]);
    const { speedComparison } = clean('time (s),speed (km/h),latitude,longitude', rows).report;
    expect(speedComparison).toMatchObject({ isSuspect: true, ratio: expect.closeTo(1.05, 2) });
  });

  it('throws away a position that no bike reaches', () => {
    const rows = Array.from({ length: 100 }, (_, t) => [t, t === 50 ? 32 : 31.4 + t * 5e-5, -45.2]);
    expect(clean('time (s),latitude,longitude', rows).report.positionJumps).toBe(1);
  });
});

describe('small things around logs', () => {
  it('quotes cells a spreadsheet would run', () => {
    for (const risky of ['=1+1', '+1', '-1+2', '@sum', '\tx']) expect(csvCell(risky)).toMatch(/^"?'/);
    expect(csvCell('a "b"')).toBe('"a ""b"""');
    expect(csvCell(-1.5)).toBe('-1.5');
    expect(
      toCsv([
        ['a', 1],
        ['b;c', NaN],
      ]),
    ).toBe('a,1\r\n"b;c",\r\n');
  });

  it.each([
    ['../../etc/passwd', 'passwd'],
    ['C:\\rides\\one.csv', 'one.csv'],
    ['a\u202egpj.csv', 'agpj.csv'],
    ['a\u0000b\n.csv', 'ab.csv'],
    ['..', 'unnamed'],
    ['', 'unnamed'],
  ])('makes a name of %j that is safe to show', (name, safe) => expect(sanitiseFileName(name)).toBe(safe));

  it('measures along a meridian and is zero at one place', () => {
    expect(haversineM(0, 0, 1, 0)).toBeCloseTo((Math.PI / 180) * 6_371_008.8, 4);
    expect(haversineM(31, -45, 31, -45)).toBe(0);
  });
});
