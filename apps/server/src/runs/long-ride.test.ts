import type { Strip } from '@ebrix/contract';
import { makeBench, type Bench } from '../testing/make-bench.js';
import { startTestApp, type TestApp } from '../testing/test-app.js';

let server: TestApp;
let bench: Bench;
let runId: string;
const SAMPLES = 120_000;
/** One sample in a hundred thousand: a peak that a thinned-out line would lose. */
const PEAK_AT = 77_777;
const current = (k: number): number => (k === PEAK_AT ? 6.3 : 5 + Math.sin(k / 900));

beforeAll(async () => {
  server = await startTestApp();
  bench = await makeBench(server);
  const rows = ['time (s),speed (km/h),voltage (V),current (A)'];
  for (let k = 0; k < SAMPLES; k++)
    rows.push(`${(k / 10).toFixed(1)},${(20 + Math.sin(k / 500)).toFixed(2)},50,${current(k).toFixed(3)}`);
  runId = await bench.addRun(rows.join('\n'), await bench.addSetup('Long'));
});
afterAll(() => server.close());

const strip = async (query: object): Promise<Strip> =>
  (await server.api.get(`/api/runs/${runId}/strip`).query(query).expect(200)).body as Strip;
const channel = (drawn: Strip, name: string) => drawn.channels.find((one) => one.name === name)!;

describe('drawing a long ride', () => {
  it('keeps a single peak at every zoom, from the pyramid and from the samples', async () => {
    const peakS = PEAK_AT / 10;
    for (const [fromS, toS] of [
      [0, SAMPLES / 10],
      [peakS - 2000, peakS + 2000],
      [peakS - 30, peakS + 30],
      [peakS - 2, peakS + 2],
    ] as const) {
      const drawn = channel(await strip({ bins: 400, fromS, toS }), 'current');
      expect(Math.max(...drawn.high.map((v) => v ?? -Infinity))).toBeCloseTo(6.3, 3);
      expect(drawn.timesS.length).toBeLessThanOrEqual(400);
    }
  });

  it('puts the bins where they belong on the clock', async () => {
    const drawn = channel(await strip({ bins: 400, fromS: 3000, toS: 9000 }), 'current');
    expect(drawn.timesS[0]!).toBeGreaterThan(2990);
    expect(drawn.timesS.at(-1)!).toBeLessThan(9010);
    for (let k = 0; k < drawn.timesS.length; k += 40) {
      const middle = (drawn.low[k]! + drawn.high[k]!) / 2;
      expect(middle).toBeCloseTo(5 + Math.sin((drawn.timesS[k]! * 10) / 900), 1);
    }
  });

  it('finds any part of the clock, over pauses too, with one sample on either side and no more', async () => {
    const clock = Array.from({ length: 3000 }, (_, k) => k / 4 + 400 * Math.floor((k + 30) / 700));
    const level = (k: number): number => 20 + 7 * Math.sin(k / 50);
    const lines = clock.map((t, k) => `${t.toFixed(2)},${level(k).toFixed(2)},50,2`);
    const id = await bench.addRun(
      ['time (s),speed (km/h),voltage (V),current (A)', ...lines].join('\n'),
      await bench.addSetup('Paused'),
    );
    for (const [fromS, toS] of [
      [0, 5],
      [160, 300],
      [167.4, 580],
      [800, 1240],
      [2300, 9999],
      [9000, 9001],
    ] as const) {
      const { body } = await server.api.get(`/api/runs/${id}/strip`).query({ bins: 1000, fromS, toS }).expect(200);
      const drawn = channel(body as Strip, 'speed');
      const after = clock.findIndex((t) => t >= fromS);
      const from = Math.max(0, (after < 0 ? clock.length : after) - 1);
      const past = clock.findIndex((t) => t >= toS);
      const to = past < 0 ? clock.length : past + 1;
      expect(drawn.timesS).toEqual(clock.slice(from, to));
      drawn.high.forEach((value, k) => expect(value).toBeCloseTo(level(from + k), 2));
    }
  });

  it('derives the power for drawing where the logger left it to be multiplied', async () => {
    const drawn = channel(await strip({ bins: 50 }), 'power');
    expect(Math.max(...drawn.high.map((v) => v ?? -Infinity))).toBeCloseTo(6.3 * 50, 0);
  });

  it('exports the cleaned channels in full', async () => {
    const { text } = await server.api.get(`/api/runs/${runId}/channels.csv`).expect(200);
    const lines = text.trimEnd().split('\r\n');
    expect(lines).toHaveLength(SAMPLES + 1);
    expect(lines[0]).toBe('time (s),speed (km/h),pack voltage (V),pack current (A),power (W)');
  });
});
