import type { Strip } from '@ebrix/contract';
import { makeBench } from '../testing/make-bench.js';
import { startTestApp, type TestApp } from '../testing/test-app.js';

let server: TestApp;
let runId: string;
const SAMPLES = 120_000;
/** One sample in a hundred thousand: a peak that a thinned-out line would lose. */
const PEAK_AT = 77_777;
const current = (k: number): number => (k === PEAK_AT ? 6.3 : 5 + Math.sin(k / 900));

beforeAll(async () => {
  server = await startTestApp();
  const bench = await makeBench(server);
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
