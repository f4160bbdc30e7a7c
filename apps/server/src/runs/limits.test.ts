import type { Knex } from 'knex';
import type { PlanBasis, SetupDetail, Trial, TrialListItem } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';
import { SessionRepository } from '../loggers/session.repository.js';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

/** More than one tester will ever have: rows made in the database, read through the pages' own doors. */
let server: TestApp;
let bench: Bench;
let setup: SetupDetail;
let other: SetupDetail;
let runId: string;
let database: Knex;
const RUNS = 66_000;

beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  setup = await bench.addSetup('Corvane R2');
  other = await bench.addSetup('Dromel D5');
  runId = await bench.addRun(makeRideCsv({ salt: 61 }), setup);
  await bench.addRun(makeRideCsv({ salt: 62 }), setup);
  database = server.app.get<Knex>(KNEX);
  // Each a part of one log, so that they are runs like any other.
  await database.raw(
    `insert into run (id, log_id, setup_revision_id, course_id, outing_id, test_kind, method_name, method_version, warnings, from_s, to_s)
     select gen_random_uuid(), log_id, ?, course_id, outing_id, test_kind, method_name, method_version, '[]', k, k + 1
     from run, generate_series(1, ?) k where run.id = ?`,
    [other.revisions[0]!.id, RUNS, runId],
  );
});
afterAll(() => server.close());

const trialBody = (revisions: readonly SetupDetail[]) => ({
  question: 'Which one is thrifty?',
  decidingFigure: 'netConsumption',
  smallestDifference: { kind: 'relative', value: 0.05 },
  courseId: bench.course.id,
  revisionIds: revisions.map(({ revisions: [latest] }) => latest!.id),
});

/** A machine that does much else besides may be ten times slower. */
const LONG_MS = 900_000;

describe('at the limit', () => {
  it('more runs than a statement has parameters are exported, each once', async () => {
    const { text } = await server.api.get('/api/runs.csv').expect(200);
    expect(text.trimEnd().split('\r\n')).toHaveLength(RUNS + 3);
    const list = (await server.api.get('/api/runs?pageSize=200').expect(200)).body as {
      total: number;
      items: unknown[];
    };
    expect([list.total, list.items.length]).toEqual([RUNS + 2, 200]);
  });

  it('the plan rests on the own runs of its setups, however many newer ones there are elsewhere', async () => {
    const trial = (
      await server.api
        .post('/api/trials')
        .send(trialBody([setup]))
        .expect(201)
    ).body as Trial;
    const basis = (
      await server.api
        .post(`/api/trials/${trial.id}/plan/basis`)
        .send({ tests: [{ testKind: 'range', courseId: bench.course.id }], airTemperatureC: 12 })
        .expect(200)
    ).body as PlanBasis;
    expect(basis.setups[0]!.rides[0]).toMatchObject({ source: 'own-runs', runs: 2 });
    expect(basis.typicalValue).toBeGreaterThan(0);
  });

  it('a list of 300 trials is answered, with the verdict of each', async () => {
    const trial = (
      await server.api
        .post('/api/trials')
        .send(trialBody([setup]))
        .expect(201)
    ).body as Trial;
    await database.raw(
      `insert into trial (id, question, deciding_figure, smallest_difference_kind, smallest_difference, course_id)
       select gen_random_uuid(), question || k, deciding_figure, smallest_difference_kind, smallest_difference, course_id
       from trial, generate_series(1, 300) k where id = ?`,
      [trial.id],
    );
    await database.raw(
      `insert into trial_setup (trial_id, position, revision_id)
       select t.id, s.position, s.revision_id from trial t, trial_setup s where s.trial_id = ? and t.id <> s.trial_id
       on conflict do nothing`,
      [trial.id],
    );
    const trials = (await server.api.get('/api/trials').expect(200)).body as TrialListItem[];
    expect(trials.length).toBeGreaterThan(300);
    expect(trials.every(({ headline }) => headline !== '')).toBe(true);
  });

  it(
    'four million samples are exported in full',
    async () => {
      const samples = 4_000_000;
      const time = Float64Array.from({ length: samples }, (_, k) => k / 50);
      const speed = new Float32Array(samples).fill(5);
      const { log_id: logId } = (await database<{ id: string; log_id: string }>('run')
        .where({ id: runId })
        .first('log_id'))!;
      await database('channel').where({ log_id: logId }).delete();
      const column = (name: string, encoding: string, values: Float32Array | Float64Array) => ({
        log_id: logId,
        name,
        encoding,
        sample_count: samples,
        samples: Buffer.from(values.buffer),
        pyramid: Buffer.alloc(0),
      });
      await database('channel').insert([column('time', 'f64', time)]);
      await database('channel').insert([column('speed', 'f32', speed)]);
      let lines = 0;
      let end = '';
      await server.api
        .get(`/api/runs/${runId}/channels.csv`)
        .expect(200)
        .buffer(true)
        .parse((response, done) => {
          response.on('data', (piece: Buffer) => {
            for (const byte of piece) if (byte === 10) lines++;
            end = (end + piece.toString()).slice(-40);
          });
          response.on('end', () => done(null, ''));
        });
      expect(lines).toBe(samples + 1);
      expect(end.trimEnd().split('\r\n').at(-1)).toBe(`${(samples - 1) / 50},18`);
    },
    LONG_MS,
  );

  it('a session of 25 000 chunks gives its clock from its beginning to its end', async () => {
    const logger = (await server.api.post('/api/bench/loggers').send({ name: 'Box 1' }).expect(201)).body as {
      id: string;
    };
    const session = '01900000-0000-7000-8000-0000000000cc';
    await database('logger_session').insert({
      id: session,
      logger_id: logger.id,
      name: 'long',
      channels: '[]',
      units: '[]',
    });
    await database.raw(
      `insert into sample_chunk (session_id, ranges, sample_count, from_t, to_t, received_at, lines)
       select ?, '[]', 1, k / 4.0, k / 4.0, to_timestamp(1000 + k / 4.0), '[' || k || ',' || k / 4.0 || ']' from generate_series(1, 25000) k`,
      [session],
    );
    const arrivals = await server.app.get(SessionRepository).arrivalsOf(session);
    expect(arrivals[0]!.loggerS).toBeLessThan(2);
    expect(arrivals.at(-1)!.loggerS).toBe(6250);
    expect(arrivals.length).toBeLessThan(10_000);
    expect(await server.app.get(SessionRepository).chunksOf(session, 6249, 6250)).toHaveLength(5);
  });
});
