import type { Knex } from 'knex';
import { loadSchema, type ImportFile, type Ride, type SetupDetail } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';
import { makeRideCsv } from '../testing/make-ride.js';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { KEPT_FOR, RetentionRepository } from './retention.repository.js';

let server: TestApp;
let bench: Bench;
let database: Knex;
let retention: RetentionRepository;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  database = server.app.get<Knex>(KNEX);
  retention = new RetentionRepository(database);
});
afterAll(() => server.close());

const inDays = (days: number): Date => new Date(Date.now() + days * 86_400_000);
const aRide = async ({ revisions }: SetupDetail): Promise<string> => {
  const body = { revisionId: revisions[0]!.id, courseId: bench.course.id, testKind: 'range' };
  return ((await server.api.post('/api/rides').send(body).expect(201)).body as Ride).id;
};
const countOf = async (table: string): Promise<number> => {
  const { rows } = await database.raw<{ rows: { n: number }[] }>('select count(*)::int as n from ??', [table]);
  return rows[0]!.n;
};

describe('what was left lying', () => {
  it('files that were never taken up go after their time; those that became runs stay', async () => {
    const setup = await bench.addSetup('Thrifty');
    await bench.addRun(makeRideCsv(), setup);
    for (const text of [makeRideCsv({ salt: 1 }), 'no log'])
      await server.api.post('/api/imports').attach('files', Buffer.from(text), 'left.csv').expect(201);
    expect(await countOf('import_file')).toBe(3);
    // Of a ride that could not be made a run of: whoever looks into it later finds it.
    await database.raw("update import_file set status = 'failed', ride_id = ? where status = 'refused'", [
      await aRide(setup),
    ]);
    expect(await retention.sweep(inDays(KEPT_FOR.stagedFiles - 1))).toEqual({ files: 0, sessions: 0 });
    expect(await retention.sweep(inDays(KEPT_FOR.stagedFiles + 1))).toEqual({ files: 1, sessions: 0 });
    await database('import_file').whereNotNull('ride_id').delete();
    const [left] = (await server.api.get('/api/imports').expect(200)).body as ImportFile[];
    expect(left).toMatchObject({ status: 'done', fileName: 'ride.csv' });
    expect(await countOf('run')).toBe(1);
  });

  it('lines of loggers go with no ride or an aborted one; those of a kept ride stay, and so does the aborted ride', async () => {
    const setup = await bench.addSetup('Ridden');
    const ride = async (name: string): Promise<{ ride: Ride; send: (session: string) => Promise<void> }> => {
      const { id } = (await server.api.post('/api/bench/loggers').send({ name }).expect(201)).body as { id: string };
      const body = { revisionId: setup.revisions[0]!.id, courseId: bench.course.id, testKind: 'range' };
      let made = (await server.api.post('/api/rides').send(body).expect(201)).body as Ride;
      made = (await server.api.put(`/api/rides/${made.id}`).send({ version: made.version, loggerId: id }).expect(200))
        .body as Ride;
      await server.api.post(`/api/rides/${made.id}/step`).send({ from: 'preparing', to: 'armed' }).expect(200);
      const send = async (session: string): Promise<void> => {
        const hello = { protocol: 1, logger: id, session, channels: ['speed', 'distance'] };
        const lines = [{ hello }, ...Array.from({ length: 40 }, (_, n) => [n, n / 10, 20, n / 90])];
        await server.api
          .post('/api/logger/lines')
          .type('application/x-ndjson')
          .send(lines.map((line) => JSON.stringify(line)).join('\n'))
          .expect(200);
      };
      return { ride: made, send };
    };
    const running = await ride('Of a ride');
    await running.send('of-a-ride');
    const aborted = await ride('Of an aborted one');
    await aborted.send('of-an-aborted-one');
    await aborted.send('of-no-ride');
    const state = ((await server.api.get(`/api/rides/${aborted.ride.id}`)).body as Ride).state;
    await server.api
      .post(`/api/rides/${aborted.ride.id}/step`)
      .send({ from: state, to: 'aborted', reason: 'Rain' })
      .expect(200);
    expect(await countOf('logger_session')).toBe(3);
    expect(await retention.sweep(inDays(KEPT_FOR.loggerLines - 1))).toMatchObject({ sessions: 0 });
    expect(await retention.sweep(inDays(KEPT_FOR.loggerLines + 1))).toMatchObject({ sessions: 2 });
    const left = await database('logger_session').pluck<string[]>('name');
    expect(left).toEqual(['of-a-ride']);
    expect((await server.api.get(`/api/rides/${aborted.ride.id}`).expect(200)).body).toMatchObject({
      state: 'aborted',
      session: null,
    });
  });
});

describe('how the server is doing', () => {
  it('is told: since when it runs, threads, jobs, and the room on its disk', async () => {
    const load = loadSchema.parse((await server.api.get('/api/upkeep/load').expect(200)).body);
    expect(Date.parse(load.startedAt)).toBeLessThanOrEqual(Date.now());
    expect(load.jobs.failed).toBe(0);
    expect(load.disk.freeBytes).toBeGreaterThan(0);
    expect(load.disk.freeBytes).toBeLessThanOrEqual(load.disk.ofBytes);
  });
});
