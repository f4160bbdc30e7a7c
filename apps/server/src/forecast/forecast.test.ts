import { ModuleRef } from '@nestjs/core';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type {
  Course,
  ForecastAnswer,
  KeptForecast,
  Life,
  SetupCalibration,
  SetupDetail,
  WeighUp,
} from '@ebrix/contract';
import { JobPool } from '../compute/compute-pool.js';
import { KNEX } from '../database/database.module.js';
import { importOne, startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';
import { CalibrationService } from './calibration.service.js';
import { ForecastModule } from './forecast.module.js';

let server: TestApp;
let bench: Bench;
let ridden: SetupDetail;
let bare: SetupDetail;
let hill: Course;
const runIds: string[] = [];
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  ridden = await bench.addSetup('Ridden');
  bare = await bench.addSetup('Bare');
  for (const salt of [1, 2, 3]) runIds.push(await addRide(ridden, salt));
  hill = (
    await server.api
      .post('/api/courses')
      .send({ name: 'Chapel Hill', kind: 'climb', surface: 'asphalt', lengthM: 2000, climbM: 80, climbUncertaintyM: 2 })
      .expect(201)
  ).body as Course;
});
afterAll(() => server.close());

/** A ride of which all that a calibration needs is known. */
async function addRide(setup: SetupDetail, salt: number): Promise<string> {
  const csv = makeRideCsv({ salt, minutes: 8, current: 2.6 + 0.03 * salt });
  const [file] = (
    await server.api.post('/api/imports').attach('files', Buffer.from(csv), `ride-${salt}.csv`).expect(201)
  ).body as { id: string; inspection: { mapping: never } | null }[];
  const { runId } = await importOne(
    server,
    file!.id,
    { ...bench.assignment(setup), totalMassKg: 110, riding: { way: 'throttle' } },
    file!.inspection?.mapping ?? null,
  );
  return runId!;
}
const calibrationOf = async ({ id }: SetupDetail): Promise<SetupCalibration> =>
  (await server.api.get(`/api/setups/${id}/calibration`).expect(200)).body as SetupCalibration;
const scenario = {
  profile: [
    { distanceM: 0, altitudeM: 0 },
    { distanceM: 3000, altitudeM: 30 },
  ],
  totalMassKg: 110,
  airTemperatureC: 12,
  windMps: 0,
  startShare: 0.9,
  riding: { targetSpeedKmh: 20, riderPowerW: 90 },
};
const figureOf = ({ figures }: Pick<ForecastAnswer, 'figures'>, key: string) => figures.find((one) => one.key === key)!;

describe('a calibration of a stored setup', () => {
  it('learns from its counted rides and says what it took for the rest', async () => {
    const { rides, parameters, usual, trust } = await calibrationOf(ridden);
    expect(rides.filter(({ isUsed }) => isUsed)).toHaveLength(3);
    expect(parameters.map(({ from }) => from)).toEqual(expect.arrayContaining(['data', 'prior']));
    expect(usual).toMatchObject({ packAh: 14, massIsKnown: false });
    // All on one outing: nothing can be left out and foretold.
    expect(trust.rides).toEqual([]);
  });
  it('is learned once for all servers and over restarts, and again only where something changed', async () => {
    const before = await calibrationOf(ridden);
    const jobs = jest.spyOn(server.app.get(JobPool), 'run');
    const another = await server.app.select(ForecastModule).get(ModuleRef, { strict: true }).create(CalibrationService);
    expect(JSON.parse(JSON.stringify(await another.ofSetup(ridden.id)))).toEqual(before);
    expect(jobs).not.toHaveBeenCalled();
    const database = server.app.get<Knex>(KNEX);
    await database('learned_bike').where({ setup_id: ridden.id }).update({ fingerprint: 'of other rides' });
    const third = await server.app.select(ForecastModule).get(ModuleRef, { strict: true }).create(CalibrationService);
    await third.ofSetup(ridden.id);
    expect(jobs.mock.calls.map(([task]) => task)).toEqual(['calibrate']);
    jobs.mockRestore();
  });
  it('of rides whose mass nobody knows says why they are not used', async () => {
    const runId = await bench.addRun(makeRideCsv({ salt: 9 }), ridden, 'unweighed.csv');
    const { rides } = await calibrationOf(ridden);
    expect(rides.find(({ id }) => id === runId)).toMatchObject({ isUsed: false, why: expect.stringMatching(/mass/) });
  });
  it('is learned anew when a ride is left out', async () => {
    const runs = (await server.api.get(`/api/runs/${runIds[0]!}`).expect(200)).body as { version: number };
    await server.api
      .post(`/api/runs/${runIds[0]!}/exclusion`)
      .send({ version: runs.version, reason: 'brake rubbed' })
      .expect((answer) => answer.status < 300 || Promise.reject(new Error(answer.text)));
    expect((await calibrationOf(ridden)).rides.filter(({ isUsed }) => isUsed)).toHaveLength(2);
  });
  it('leaves out rides without the motor, and learns anew when the weather is put right', async () => {
    const runId = await addRide(ridden, 31);
    await server.api
      .post('/api/runs/riding')
      .send({ runIds: [runId], riding: { way: 'off' } })
      .expect(200);
    const { rides, parameters } = await calibrationOf(ridden);
    expect(rides.find(({ id }) => id === runId)).toMatchObject({
      isUsed: false,
      why: expect.stringMatching(/motor was off/),
    });
    const {
      version,
      id: _id,
      updatedAt: _at,
      archivedAt: _archived,
      runCount: _runs,
      ...outing
    } = bench.outing as unknown as Record<string, unknown>;
    await server.api
      .put(`/api/outings/${bench.outing.id}`)
      .send({ ...outing, version, airTemperatureC: -5 })
      .expect(200);
    const after = (await calibrationOf(ridden)).parameters;
    const drag = (list: typeof after): number => list.find(({ name }) => name === 'dragArea')!.value;
    expect(drag(after)).not.toBe(drag(parameters));
  });
  it('takes a pack as it has aged: what it still gives of its label', async () => {
    const capacity = async (): Promise<number> =>
      (await calibrationOf(bare)).parameters.find(({ name }) => name === 'capacity')!.value;
    const before = await capacity();
    const entry = (day: string, odometerKm: number, details: object) => ({
      id: uuidv7(),
      subject: { kind: 'setup', id: bare.id },
      day,
      odometerKm,
      details,
    });
    const gave = (value: number): object => ({ kind: 'inspection', part: 'pack', value });
    await server.api
      .post('/api/logbook/entries')
      .send({
        entries: [
          entry('2024-05-01', 0, { kind: 'fitted' }),
          entry('2024-05-02', 10, gave(98)),
          entry('2024-12-01', 7000, gave(88)),
          entry('2025-06-01', 14_000, gave(78)),
          entry('2025-12-01', 21_000, gave(68)),
        ],
      })
      .expect(200);
    const life = (await server.api.get(`/api/setups/${bare.id}/life`).expect(200)).body as Life;
    expect(life.ageing).toMatchObject({ verdict: 'fades', readings: 4 });
    expect(await capacity()).toBeLessThan(0.85 * before);
  });
  it('without rides is what is usual; without a kit there is none', async () => {
    expect((await calibrationOf(bare)).parameters.every(({ from }) => from === 'prior')).toBe(true);
    await server.api.get('/api/setups/00000000-0000-7000-8000-000000000000/calibration').expect(404);
  });
});

describe('a forecast of a stored setup', () => {
  const ask = async (setup: SetupDetail, over: object = {}): Promise<ForecastAnswer> =>
    (
      await server.api
        .post('/api/forecast')
        .send({ setupId: setup.id, scenario: { ...scenario, ...over } })
        .expect(200)
    ).body as ForecastAnswer;
  it('is narrower for a bike that was ridden than for one that was not', async () => {
    const width = (answer: ForecastAnswer): number => {
      const { value, interval95 } = figureOf(answer, 'energyOut');
      return (interval95[1] - interval95[0]) / value;
    };
    const [known, unknown] = [await ask(ridden), await ask(bare)];
    expect(width(known)).toBeLessThan(width(unknown));
    expect(unknown.warnings.map(({ code }) => code)).toContain('no-rides');
  });
  it('refuses what cannot be in a sentence', async () => {
    const { body } = await server.api
      .post('/api/forecast')
      .send({ setupId: ridden.id, scenario: { ...scenario, profile: [scenario.profile[1], scenario.profile[0]] } })
      .expect(422);
    expect((body as { error: { message: string } }).error.message).toMatch(/distances must grow/);
  });
});

describe('a kept forecast', () => {
  const keep = async (): Promise<KeptForecast> => {
    const { figures } = (await server.api.post('/api/forecast').send({ setupId: ridden.id, scenario }).expect(200))
      .body as ForecastAnswer;
    const body = {
      title: 'To the mill',
      setupId: ridden.id,
      question: { address: 'on=slope', words: 'a slope' },
      figures,
    };
    return (await server.api.post('/api/forecasts').send(body).expect(201)).body as KeptForecast;
  };
  it('is set against the ride, one window at a time, and says what came out inside', async () => {
    const kept = await keep();
    const { body } = await server.api
      .put(`/api/forecasts/${kept.id}/ride`)
      .send({ version: 1, runId: runIds[1] })
      .expect(200);
    const { ridden: against } = body as KeptForecast;
    const run = (await server.api.get(`/api/runs/${runIds[1]!}`)).body as {
      allFigures: { key: string; value: number }[];
    };
    const energy = against!.figures.find(({ key }) => key === 'energyOut')!;
    expect(energy.value).toBe(run.allFigures.find(({ key }) => key === 'energyOut')!.value);
    expect(energy.isInside).toBe(energy.interval95[0] <= energy.value && energy.value <= energy.interval95[1]);
    await server.api.put(`/api/forecasts/${kept.id}/ride`).send({ version: 1, runId: null }).expect(409);
    await server.api.delete(`/api/forecasts/${kept.id}`).expect(204);
    await server.api.delete(`/api/forecasts/${kept.id}`).expect(404);
  });
  it('is not set against the ride of another setup', async () => {
    const kept = await keep();
    const other = await addRide(bare, 20);
    const { body } = await server.api
      .put(`/api/forecasts/${kept.id}/ride`)
      .send({ version: 1, runId: other })
      .expect(409);
    expect((body as { error: { message: string } }).error.message).toMatch(/ridden with Bare/);
  });
});

it('a bound on a course that was not ridden is judged by the forecast, and says so', async () => {
  const use = {
    criteria: [{ key: 'addedMass', weight: 1 }],
    mustHaves: [{ key: 'netConsumption', atMost: 100, courseId: hill.id }],
  };
  const { mustHaves, setups } = (
    await server.api
      .post('/api/weigh-up')
      .send({ use, revisionIds: [ridden.revisions[0]!.id] })
      .expect(200)
  ).body as WeighUp;
  expect(mustHaves[0]!.label).toMatch(/Chapel Hill \(foretold for A: not ridden there\)/);
  expect(setups[0]!.standings[`netConsumption@${hill.id}`]!.standardUncertainty).toBeGreaterThan(0);
});

it('a plan says which rides were taken from what the bike was taught', async () => {
  const trial = await bench.addTrial('Which climbs better?', [ridden, bare]);
  const { body } = await server.api
    .post(`/api/trials/${trial.id}/plan/basis`)
    .send({ tests: [{ testKind: 'range', courseId: hill.id, laps: 1, level: '', effort: 'steady' }] })
    .expect(200);
  const { setups } = body as { setups: { rides: { source: string; energyWh: number }[] }[] };
  // The mass of the rider is not known on this bench: the model's usual one stays.
  expect(setups.map(({ rides }) => rides[0]!.source)).toEqual(['model', 'model']);
});
