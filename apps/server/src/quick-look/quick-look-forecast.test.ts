import type { ForecastAnswer } from '@ebrix/contract';
import { startTestApp, type TestApp } from '../testing/test-app.js';

let server: TestApp;
beforeAll(async () => (server = await startTestApp()));
afterAll(() => server.close());

/** A ride written by hand: a bike of 100 kg that holds 6 m/s on a way that rolls, and what that takes; no noise. */
function rideCsv(phase: number): string {
  const lines = [
    'time (s),speed (km/h),distance (m),altitude (m),voltage (V),current (A),rider power (W),motor temperature (°C)',
  ];
  let [used, warmC] = [0, 15];
  for (let t = 0; t < 900; t++) {
    const s = 6 * t;
    const slope = 0.02 * Math.cos(s / 300 + phase);
    const altitude = 6 * Math.sin(s / 300 + phase);
    const wheelW = 6 * (0.6 * 0.6 * 36 + 100 * 9.81 * (0.008 + slope));
    const watts = 4 + Math.max(0, (wheelW - 60) / 0.82);
    const volts = 51 - used / 2 - watts / 500;
    used += watts / volts / 3600;
    warmC += (0.12 * watts - 1.5 * (warmC - 15)) / 1800;
    lines.push(
      [
        t,
        (21.6).toFixed(1),
        s,
        altitude.toFixed(2),
        volts.toFixed(2),
        (watts / volts).toFixed(3),
        wheelW > 60 ? 60 : Math.max(0, wheelW).toFixed(0),
        warmC.toFixed(1),
      ].join(','),
    );
  }
  return lines.join('\n');
}
const profile = [
  { distanceM: 0, altitudeM: 0 },
  { distanceM: 4000, altitudeM: 40 },
];
const request = (over: object = {}) => ({
  runs: [0, 1].map((k) => ({
    file: `ride-${k}.csv`,
    test: 'range',
    totalMassKg: 100,
    airTemperatureC: 15,
    windMps: 0,
  })),
  known: { seriesCells: 13, nominalVoltageV: 46.8, capacityAh: 13 },
  scenario: {
    profile,
    totalMassKg: 100,
    airTemperatureC: 15,
    windMps: 0,
    startShare: 0.9,
    riding: { targetSpeedKmh: 21.6, riderPowerW: 60 },
  },
  ...over,
});
const ask = (body: unknown, files = ['ride-0.csv', 'ride-1.csv']) =>
  files.reduce(
    (sent, name, k) => sent.attach('file', Buffer.from(rideCsv(k)), name),
    server.api
      .post('/api/quick-look/forecast')
      .field('request', typeof body === 'string' ? body : JSON.stringify(body)),
  );
const messageOf = ({ body }: { body: unknown }): string => (body as { error: { message: string } }).error.message;

describe('a forecast from rides that came with the request', () => {
  it('meets what the same sums say for a hill that was not ridden', async () => {
    const { figures, along, parameters, trust } = (await ask(request()).expect(200)).body as ForecastAnswer;
    const figure = (key: string) => figures.find((one) => one.key === key)!;
    const wheelW = 6 * (0.6 * 0.6 * 36 + 100 * 9.81 * (0.008 + 0.01));
    const wanted = ((4 + (wheelW - 60) / 0.82) * (4000 / 6)) / 3600;
    const { value, interval95, unit, contributions } = figure('energyOut');
    expect(unit).toBe('Wh');
    expect(interval95[0]).toBeLessThan(wanted);
    expect(interval95[1]).toBeGreaterThan(wanted);
    expect(Math.abs(value / wanted - 1)).toBeLessThan(0.08);
    expect(contributions.length).toBeGreaterThan(1);
    expect(figure('time').value).toBeGreaterThan(4000 / 6 - 5);
    expect(along.length).toBeGreaterThan(100);
    expect(parameters.find(({ name }) => name === 'dragArea')).toBeDefined();
    expect(trust.rides).toHaveLength(2);
  });

  it('is the same for the same seed', async () => {
    const [first, again] = [await ask(request({ seed: 5 })).expect(200), await ask(request({ seed: 5 })).expect(200)];
    expect(again.body).toEqual(first.body);
  });

  it.each([
    ['no rides', { runs: [] }, 400, /at least one ride/i],
    [
      'a ride without its file',
      { runs: [{ file: 'other.csv', test: 'range', totalMassKg: 100 }] },
      400,
      /other\.csv.*no file of that name/,
    ],
    ['cells that do not fit the voltage', { known: { seriesCells: 13, nominalVoltageV: 72 } }, 422, /5\.54 V a cell/],
    ['another pack than the logs', { known: { seriesCells: 20, nominalVoltageV: 72 } }, 422, /that is another pack/],
    [
      'a reserve above the start',
      { scenario: { ...request().scenario, startShare: 0.2, reserveShare: 0.5 } },
      422,
      /reserve \(50 %\)/,
    ],
    [
      'a way that goes back',
      { scenario: { ...request().scenario, profile: [...profile, { distanceM: 10, altitudeM: 0 }] } },
      422,
      /point 3/,
    ],
    [
      'a way of nothing',
      { scenario: { ...request().scenario, profile: [profile[0], { distanceM: null, altitudeM: 0 }] } },
      400,
      /./,
    ],
    [
      'too many points',
      {
        scenario: {
          ...request().scenario,
          profile: Array.from({ length: 50_001 }, (_, k) => ({ distanceM: k, altitudeM: 0 })),
        },
      },
      400,
      /50000 points/,
    ],
  ])('refuses %s in a sentence', async (_what, over, status, words) =>
    expect(messageOf(await ask(request(over)).expect(status))).toMatch(words),
  );

  it('refuses a million points, and what is no JSON', async () => {
    const million = JSON.stringify(
      request({
        scenario: {
          ...request().scenario,
          profile: Array.from({ length: 1_000_000 }, (_, k) => ({ distanceM: k, altitudeM: 0 })),
        },
      }),
    );
    expect(messageOf(await ask(million).expect(413))).toMatch(/too large/);
    expect(messageOf(await ask('{"runs": NaN}').expect(400))).toMatch(/not valid JSON/);
  });

  it('names the ride whose log cannot be read', async () => {
    const sent = server.api
      .post('/api/quick-look/forecast')
      .field('request', JSON.stringify(request({ runs: [{ file: 'broken.csv', test: 'range', totalMassKg: 100 }] })))
      .attach('file', Buffer.from('no log at all'), 'broken.csv');
    expect(messageOf(await sent.expect(422))).toMatch(/broken\.csv/);
  });
});
