import { execFile, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { promisify } from 'node:util';
import knex, { type Knex } from 'knex';
import request from 'supertest';
import type { ImportFile, Ride, RunDetail, SetupDetail } from '@ebrix/contract';
import { urlOfDatabase } from '../database/connect.js';
import { makeBench, type Bench } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';
import { freePort } from '../testing/free-port.js';
import { PlainLogger } from '../testing/plain-logger.js';
import { DIST, startProcess, untilTrue, wait } from '../testing/processes.js';

const run = promisify(execFile);
/** Every connection of the server's database is cut off at this moment. */
const cutConnections = () =>
  admin.raw('select pg_terminate_backend(pid) from pg_stat_activity where datname = ? and pid <> pg_backend_pid()', [
    name,
  ]);

let admin: Knex;
let databaseUrl: string;
let name: string;
let port: number;
let server: ChildProcess;
let bench: Bench;
let setup: SetupDetail;
const url = (): string => `http://127.0.0.1:${port}`;
const api = () => request(url());

async function start(): Promise<void> {
  server = await startProcess('main.js', databaseUrl, port);
}

beforeAll(async () => {
  const cluster = process.env['EBRIX_TEST_DATABASE'];
  if (!cluster) throw new Error('Server tests need EBRIX_TEST_DATABASE, which `npm test` sets.');
  name = `test_${randomBytes(6).toString('hex')}`;
  admin = knex({ client: 'pg', connection: cluster, pool: { min: 0, max: 2 } });
  await admin.raw(`create database ${name}`);
  databaseUrl = urlOfDatabase(cluster, name);
  port = await freePort();
  await start();
  bench = await makeBench({ api: api() } as unknown as Parameters<typeof makeBench>[0]);
  setup = await bench.addSetup('Thrifty');
});
afterAll(async () => {
  server.kill('SIGKILL');
  await admin.raw(`drop database ${name} with (force)`);
  await admin.destroy();
});

/** What a case that failed may have left behind is no business of the next one. */
beforeEach(async () => {
  await admin.raw(`alter database ${name} with allow_connections true`);
  if (server.exitCode !== null || server.signalCode !== null) await start();
});
afterEach(() => PlainLogger.stopAll());

const get = async (id: string): Promise<Ride> => (await api().get(`/api/rides/${id}`).expect(200)).body as Ride;
let loggers = 0;
async function newLogger(): Promise<{ id: string; name: string }> {
  const body = { name: `Box ${++loggers}` };
  return (await api().post('/api/bench/loggers').send(body).expect(201)).body as { id: string; name: string };
}
async function armed(loggerId: string): Promise<Ride> {
  let ride = (
    await api()
      .post('/api/rides')
      .send({ revisionId: setup.revisions[0]!.id, courseId: bench.course.id, testKind: 'range' })
      .expect(201)
  ).body as Ride;
  ride = (await api().put(`/api/rides/${ride.id}`).send({ version: ride.version, loggerId }).expect(200)).body as Ride;
  return step(ride, 'armed');
}
async function step(ride: Ride, to: string): Promise<Ride> {
  return (await api().post(`/api/rides/${ride.id}/step`).send({ from: ride.state, to }).expect(200)).body as Ride;
}
const runOf = (id: string): Promise<RunDetail> =>
  untilTrue(async () => {
    const { runId, conversion } = await get(id);
    if (conversion?.status === 'failed') throw new Error(conversion.message);
    return runId === null ? undefined : ((await api().get(`/api/runs/${runId}`).expect(200)).body as RunDetail);
  }, 'the run');

async function storedNumbers(session: string): Promise<Set<number>> {
  const database = knex({ client: 'pg', connection: databaseUrl, pool: { min: 0, max: 1 } });
  try {
    const rows = await database('sample_chunk as c')
      .join('logger_session as s', 's.id', 'c.session_id')
      .where('s.name', session)
      .select<{ lines: string }[]>('c.lines');
    return new Set(rows.flatMap(({ lines }) => lines.split('\n').map((line) => (JSON.parse(line) as [number])[0])));
  } finally {
    await database.destroy();
  }
}

describe('a server that is told to end', () => {
  it('ends by itself, and the next one goes on', async () => {
    const ended = new Promise<string | null>((resolve) => server.once('exit', (_code, signal) => resolve(signal)));
    server.kill('SIGTERM');
    expect(await Promise.race([ended, wait(60_000).then(() => 'still there')])).not.toBe('still there');
    await start();
  });
});

describe('in mid-run', () => {
  const running = (id: string) =>
    untilTrue(async () => ((await get(id)).state === 'running' ? true : undefined), 'running');

  it('the server killed with -9 loses no line that it had acknowledged, and the run goes on', async () => {
    const box = await newLogger();
    const ride = await armed(box.id);
    const logger = new PlainLogger(url(), box.id, 'killed');
    await running(ride.id);
    await logger.untilAcknowledged(100);
    server.kill('SIGKILL');
    await new Promise((resolve) => server.once('exit', resolve));
    const stored = await storedNumbers('killed');
    const promised = logger.sent.filter((n) => n <= logger.acknowledged);
    expect(promised.length).toBeGreaterThan(90);
    expect(promised.filter((n) => !stored.has(n))).toEqual([]);
    await untilTrue(() => Promise.resolve(logger.unsent.length > 0 || undefined), 'lines that nobody heard');

    await start();
    expect((await get(ride.id)).state).toBe('running');
    await untilTrue(async () => ((await get(ride.id)).session?.isConnected ? true : undefined), 'the logger is back');
    await logger.untilAcknowledged(100);
    const finished = await step(await get(ride.id), 'finished');
    // What is missing is said.
    expect(finished.session!.missing).toBeGreaterThan(0);
    logger.stop();
    await step(finished, 'kept');
    const { allFigures } = await runOf(ride.id);
    expect(allFigures.find(({ key }) => key === 'distance')!.value).toBeGreaterThan(0.02);
  });

  it('the database away for a while loses no line', async () => {
    const box = await newLogger();
    const logger = new PlainLogger(url(), box.id, 'away');
    const ride = await armed(box.id);
    await running(ride.id);
    await logger.untilAcknowledged(20);
    await admin.raw(`alter database ${name} with allow_connections false`);
    await cutConnections();
    const before = logger.sent.length;
    await untilTrue(
      () => Promise.resolve(logger.sent.length >= before + 100 || undefined),
      '100 lines without a database',
    );
    await admin.raw(`alter database ${name} with allow_connections true`);
    await logger.untilAcknowledged(120);
    logger.stop();
    await untilTrue(async () => {
      const found = await storedNumbers('away');
      return logger.sent.every((n) => found.has(n)) ? true : undefined;
    }, 'every line is stored');
    await step(await untilTrue(() => get(ride.id).catch(() => undefined), 'the ride'), 'finished');
  });
});

describe('a database that dies while jobs run', () => {
  it('ends nothing: twenty times cut off, the server lives, and every file becomes one run', async () => {
    const files: ImportFile[] = [];
    for (let salt = 500; salt < 508; salt++)
      files.push(
        ...((
          await api()
            .post('/api/imports')
            .attach('files', Buffer.from(makeRideCsv({ salt })), `cut-${salt}.csv`)
            .expect(201)
        ).body as ImportFile[]),
      );
    const items = files.map(({ id, inspection }) => ({
      importId: id,
      mapping: inspection!.mapping,
      assignment: bench.assignment(setup),
    }));
    await api().post('/api/imports/start').send({ items }).expect(202);
    for (let cut = 0; cut < 20; cut++) {
      await cutConnections();
      // Until it works with the database again: then it is cut off in the middle of something.
      await untilTrue(
        () =>
          api()
            .get('/api/health')
            .expect(200)
            .then(
              () => true,
              () => undefined,
            ),
        'it answers',
      );
    }
    const ids = new Set(files.map(({ id }) => id));
    const ended = await untilTrue(async () => {
      const answer = await api().get('/api/imports');
      const own = answer.status === 200 ? (answer.body as ImportFile[]).filter(({ id }) => ids.has(id)) : [];
      return own.length === ids.size && own.every(({ status }) => status === 'done' || status === 'failed')
        ? own
        : undefined;
    }, 'all files are read');
    expect(ended.map(({ status }) => status)).toEqual(files.map(() => 'done'));
    expect(new Set(ended.map(({ runId }) => runId)).size).toBe(files.length);
    expect([server.exitCode, server.signalCode]).toEqual([null, null]);
  });
});

describe('the simulated logger', () => {
  let box: { id: string; name: string };
  beforeAll(async () => (box = await newLogger()));
  const program = (...args: string[]) =>
    run(process.execPath, [join(DIST, 'simulated-logger/main.js'), '--url', url(), '--logger', box.name, ...args]);

  it('rides a course, loses samples, breaks its line and drifts, and the ride becomes a run all the same', async () => {
    const ride = await armed(box.id);
    const { stdout } = await program(
      '--ride',
      ride.id,
      '--pace',
      '60',
      '--drop',
      '0.02',
      '--cut',
      '120',
      '--drift',
      '0.001',
      '--seed',
      '5',
    );
    expect(stdout).toContain('connected again');
    // The logger is gone before the ride hears of it.
    const finished = await untilTrue(async () => {
      const now = await get(ride.id);
      return now.state === 'finished' ? now : undefined;
    }, 'the ride is finished');
    expect(finished.session).toMatchObject({ bad: 0, isEnded: true });
    expect(finished.session!.missing).toBeGreaterThan(5);
    await step(finished, 'kept');
    const { allFigures } = await runOf(ride.id);
    const distance = allFigures.find(({ key }) => key === 'distance')!;
    expect(distance.interval95[0]).toBeLessThan(2.005);
    expect(distance.value).toBeCloseTo(2, 1);
  });
  it('is gone when its ride is aborted, and feeds no other', async () => {
    const simulate = (id: string) => api().post(`/api/rides/${id}/simulate`).send({ pace: 2 }).expect(202);
    const begin = async (): Promise<Ride> => {
      const body = { revisionId: setup.revisions[0]!.id, courseId: bench.course.id, testKind: 'range' };
      const { id } = (await api().post('/api/rides').send(body).expect(201)).body as Ride;
      return step(await get(id), 'armed');
    };
    const first = await begin();
    await simulate(first.id);
    await untilTrue(async () => ((await get(first.id)).state === 'running' ? true : undefined), 'it rides');
    await api()
      .post(`/api/rides/${first.id}/step`)
      .send({ from: 'running', to: 'aborted', reason: 'Rain' })
      .expect(200);
    await untilTrue(async () => ((await get(first.id)).session?.isEnded ? true : undefined), 'it said goodbye');
    const second = await begin();
    await simulate(second.id);
    const fed = await untilTrue(async () => (await get(second.id)).session ?? undefined, 'the next one is fed');
    expect(fed.session).not.toBe((await get(first.id)).session!.session);
    await untilTrue(async () => ((await get(second.id)).state === 'running' ? true : undefined), 'it rides');
    await step(await get(second.id), 'finished');
  });
  it('says what it lacks', async () => {
    const answer = (...args: string[]) =>
      program(...args).then(
        () => '',
        (error: { stderr: string; stdout: string }) => error.stderr + error.stdout,
      );
    expect(await answer('--setup', 'Nowhere', '--course', 'Level round')).toContain(
      'There is no setup "Nowhere". There are: Thrifty.',
    );
    expect(await answer('--setup', 'Thrifty', '--course', 'Level round', '--logger', 'Nobody')).toContain(
      'no logger "Nobody"',
    );
    expect(await answer()).toContain('Usage: npm run logger');
    expect(await answer('--setup', 'Thrifty', '--course', 'Level', '--pace', '900')).toContain(
      '--pace must lie between 1 and 60',
    );
  });
});
