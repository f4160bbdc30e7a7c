import { feltRide, type FeltRideOptions } from '../../testing/felt-ride.js';
import { logOf, logOfColumns } from '../../testing/test-logs.js';
import { seededRandom, standardNormal } from '../../numeric/index.js';
import { analyseTest } from '../analyse-test.js';
import { sliceByTime } from '../cut-log.js';
import { alongBike } from './along-bike.js';
import { fitRamp } from './fit-ramp.js';
import { meanWithin } from './mean-within.js';

const analysed = (csv: string) => analyseTest('assist-response', logOf(csv), {});
const codes = (options: FeltRideOptions) => analysed(feltRide(3, options).csv).warnings.map(({ code }) => code);

describe('what a phone feels', () => {
  it('gives starts and stops within what is stated, however it is mounted, and the delay of the assist never', () => {
    const RIDES = 20;
    const within: Record<string, number> = {};
    for (let seed = 1; seed <= RIDES; seed++) {
      const share = (k: number): number => ((seed * 7919 * (k + 1)) % 997) / 997;
      const { csv, truth } = feltRide(seed, {
        starts: 3 + (seed % 3),
        hz: [25, 50, 60][seed % 3]!,
        pushMps2: 0.8 + 1.2 * share(1),
        rampS: 0.2 + share(2),
        brakingMps2: 1.6 + 2.4 * share(3),
        shakingMps2: 0.3 + 2 * share(4),
        slope: 0.03 * share(5),
        receiverDelayS: 0.1 + share(6),
        sign: seed % 2 === 0 ? 1 : -1,
      });
      const { figures, warnings } = analysed(csv);
      expect(figures.some(({ key }) => key === 'latency' || key === 'overrun')).toBe(false);
      expect(warnings.map(({ code }) => code)).toContain('delay-not-felt');
      for (const [key, value] of Object.entries(truth)) {
        const figure = figures.find((one) => one.key === key);
        const isIn = figure && value >= figure.interval95[0] && value <= figure.interval95[1];
        within[key] = (within[key] ?? 0) + (isIn || Number.isNaN(value) ? 1 : 0);
      }
    }
    for (const [key, count] of Object.entries(within)) expect([key, count >= 18]).toEqual([key, true]);
  });
  it.each<[string, FeltRideOptions]>([
    ['a wheel ten times a second', { receiverDelayS: 0.05, fixEveryS: 0.1 }],
    ['places alone, four seconds of them', { receiverDelayS: 0.05, overFixes: 4 }],
    ['a weak push that grows for long', { pushMps2: 0.55, rampS: 1.5 }],
    ['a slope of eight per cent', { slope: 0.08 }],
  ])('does so with %s', (_what, options) => {
    const missed: string[] = [];
    for (let seed = 1; seed <= 12; seed++) {
      const { csv, truth } = feltRide(seed, { starts: 4, shakingMps2: 0.8, ...options });
      const { figures } = analysed(csv);
      for (const [key, value] of Object.entries(truth)) {
        const figure = figures.find((one) => one.key === key);
        // A speed that was hardly reached has no time.
        if (!figure && key.startsWith('time')) continue;
        if (!figure || value < figure.interval95[0] || value > figure.interval95[1] || Number.isNaN(value))
          missed.push(`${key} of ride ${seed}`);
      }
    }
    for (const key of ['time0to20', 'time0to25', 'peakAcceleration', 'deceleration', 'pushRise'])
      expect(missed.filter((one) => one.startsWith(key)).length).toBeLessThanOrEqual(2);
  });
  it('is closer the less it shakes', () => {
    const width = (shakingMps2: number): number => {
      const { figures } = analysed(feltRide(7, { shakingMps2 }).csv);
      const { interval95 } = figures.find(({ key }) => key === 'peakAcceleration')!;
      return interval95[1] - interval95[0];
    };
    expect(width(0.2)).toBeLessThan(0.7 * width(3));
  });
  it('finds forwards to a few degrees, and how late the receiver is', () => {
    const log = logOf(feltRide(11, { receiverDelayS: 0.8 }).csv);
    const along = alongBike(log.motion!, log);
    expect(along).toMatchObject({ ok: true });
    if (!along.ok) return;
    expect(along.value.angleErrorDeg).toBeLessThan(4);
    expect(Math.abs(along.value.speedDelayS - 0.8)).toBeLessThan(0.3);
  });
  it('is refused with the reason where it was moved in its mount, where nothing changed its speed, or where gravity is left out', () => {
    expect(codes({ isMoved: true })).toContain('moved-in-its-mount');
    expect(codes({ isSteady: true })).toContain('speed-hardly-changed');
    const bare = feltRide(3).csv.replace(/^([\d.]+,,[-\d.]+,[-\d.]+),[-\d.]+/gm, '$1,0');
    expect(analysed(bare).warnings.map(({ code }) => code)).toContain('no-gravity');
    expect(codes({ hz: 5 })).toContain('too-slow');
    const alone = feltRide(3).csv.replace(/^[\d.]+,\d.*\n/gm, '');
    expect(analysed(alone).warnings.map(({ code }) => code)).toContain('no-speed');
  });
  it('of a part of a log, of nothing and of broken sensors fails with a reason, and throws nowhere', () => {
    const log = logOf(feltRide(9, { starts: 2 }).csv);
    const random = seededRandom(12);
    for (let k = 0; k < 40; k++) {
      const from = Math.floor(random() * log.timeS.length * 0.9);
      const part = sliceByTime(log, log.timeS[from]!, log.timeS[from]! + 40 * random());
      const broken = part?.motion && {
        ...part,
        motion: {
          ...part.motion,
          force: part.motion.force.map((column) =>
            column.map((one) => (k % 4 === 0 ? 0 : k % 4 === 1 ? 1e9 : one)),
          ) as never,
        },
      };
      for (const one of [part, broken])
        for (const kind of ['assist-response', 'stand'] as const)
          if (one)
            for (const { value, interval95 } of analyseTest(kind, one, {}).figures)
              expect([value, ...interval95].every(Number.isFinite)).toBe(true);
    }
  });
  it('leaves the rest of a log as it is without it', () => {
    const { csv } = feltRide(5);
    const rows = csv.trim().split('\n');
    const speeds = [rows[0]!.split(',').slice(0, 2).join(',')];
    for (const row of rows.slice(1)) if (!row.split(',')[2]) speeds.push(row.split(',').slice(0, 2).join(','));
    const [withIt, without] = [logOf(csv), logOf(speeds.join('\n'))];
    const first = withIt.timeS.length - without.timeS.length;
    expect(first).toBe(0);
    expect([...withIt.channels.speed!]).toEqual([...without.channels.speed!]);
    expect(withIt.report.medianStepS).toBeCloseTo(without.report.medianStepS, 6);
    expect(Object.keys(withIt.channels)).toEqual(['speed']);
    expect(without.motion).toBeUndefined();
    // Two axes of three are no motion, and leave no holes either.
    const twoAxes = logOf(csv.replace('acc z', 'something'));
    expect([...twoAxes.channels.speed!]).toEqual([...without.channels.speed!]);
    expect([Object.keys(twoAxes.channels), twoAxes.motion, twoAxes.report.felt]).toEqual([
      ['speed'],
      undefined,
      undefined,
    ]);
    const figure = (log: typeof withIt) => analyseTest('range', log, {}).figures.find(({ key }) => key === 'distance')!;
    expect(figure(withIt).value).toBeCloseTo(figure(without).value, 9);
  });
});

describe('a ramp', () => {
  const random = seededRandom(4);
  const times = Array.from({ length: 120 }, (_, k) => k * 0.05);
  const made = (startS: number, lengthS: number, noise: number) =>
    times.map((t) => 1.4 * Math.min(1, Math.max(0, (t - startS) / lengthS)) + noise * standardNormal(random));
  it.each([
    [2, 0.5],
    [2.4, 1.2],
    [1.7, 0.2],
  ])('that begins at %d s and rises for %d s is found', (startS, lengthS) => {
    const ramp = fitRamp(times, made(startS, lengthS, 0.05), 1, 4)!;
    expect(Math.abs(ramp.startS - startS)).toBeLessThan(Math.max(0.08, 2.5 * ramp.startErrorS));
    expect(Math.abs(ramp.lengthS - lengthS)).toBeLessThan(Math.max(0.12, 2.5 * ramp.lengthErrorS));
  });
  it('is not there where nothing rises, or too little is known', () => {
    expect(
      fitRamp(
        times,
        times.map((t) => (t > 2 ? -1 : 0)),
        1,
        4,
      ),
    ).toBeUndefined();
    expect(fitRamp([1, 2], [0, 1], 1, 2)).toBeUndefined();
  });
});

it('takes means over a window of time, and over what there is at the ends', () => {
  const timeS = Float64Array.from([0, 1, 2, 3, 4]);
  expect([...meanWithin(timeS, Float64Array.from([0, 1, 2, 3, 10]), 2)]).toEqual([0.5, 1, 2, 5, 6.5]);
});

describe('a wheel on the stand', () => {
  const shaken = (t: number): number => (t > 5 && t < 15 ? 1.5 * Math.sin(2 * Math.PI * 4.5 * t) : 0);
  const felt = {
    'acc x (m/s2)': shaken,
    'acc y (m/s2)': () => 9.81,
    'acc z (m/s2)': (t: number) => 0.02 * Math.sin(40 * t),
  };
  const stand = (columns: Record<string, (t: number) => number>) =>
    analyseTest('stand', logOfColumns(20, 50, columns), {});
  it('shakes by so much and so often, and has no speed where none was logged', () => {
    const { figures, warnings, spans } = stand(felt);
    const of = (key: string) => figures.find((figure) => figure.key === key)!;
    expect(of('vibration').value).toBeCloseTo(1.5 / Math.SQRT2, 1);
    expect(of('vibration').interval95[1]).toBeGreaterThan(1.5 / Math.SQRT2);
    expect(of('vibrationRate')).toMatchObject({ value: 4.5, unit: 'Hz' });
    expect(spans[0]).toMatchObject({ kind: 'no-load', fromS: expect.closeTo(5, 0) as number });
    expect(warnings.map(({ code }) => code)).toContain('shaking-only');
    expect(figures.some(({ key }) => key === 'noLoadSpeed')).toBe(false);
  });
  it('shakes beside its speed, where there is one', () => {
    const { figures } = stand({ ...felt, 'speed (km/h)': (t) => (t > 5 && t < 15 ? 32 : 0) });
    expect(figures.map(({ key }) => key)).toEqual(expect.arrayContaining(['noLoadSpeed', 'vibration']));
  });
  it('is said not to shake where it does not', () => {
    const { figures, warnings } = stand({ ...felt, 'acc x (m/s2)': () => 0.1 });
    expect(figures).toEqual([]);
    expect(warnings.map(({ code }) => code)).toContain('hardly-shakes');
  });
});
