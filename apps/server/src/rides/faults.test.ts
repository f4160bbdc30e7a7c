import { execFile, spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { createServer, type AddressInfo } from 'node:net';
import { join } from 'node:path';
import { promisify } from 'node:util';
import knex, { type Knex } from 'knex';
import request from 'supertest';
import WebSocket from 'ws';
import type { Ride, RunDetail, SetupDetail } from '@ebrix/contract';
import { makeBench, type Bench } from '../testing/make-bench.js';

/** The built server and the built logger as processes of their own, so that they can be killed. `npm test` builds them first. */
const DIST = join(__dirname, '../../dist');
const run = promisify(execFile);
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

let admin: Knex;
let databaseUrl: string;
let name: string;
let port: number;
let server: ChildProcess;
let bench: Bench;
let setup: SetupDetail;
let loggerId: string;
const url = (): string => `http://127.0.0.1:${port}`;
const api = () => request(url());

async function freePort(): Promise<number> {
  const probe = createServer();
  await new Promise<void>((resolve) => probe.listen(0, '127.0.0.1', resolve));
  const found = (probe.address() as AddressInfo).port;
  await new Promise((resolve) => probe.close(resolve));
  return found;
}
async function start(): Promise<void> {
  server = spawn(process.execPath, [join(DIST, 'main.js')], {
    env: { PATH: process.env['PATH'], DATABASE_URL: databaseUrl, PORT: String(port), LOG_LEVEL: 'fatal' },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  await untilTrue(
    () =>
      fetch(`${url()}/api/health`).then(
        ({ ok }) => (ok ? true : undefined),
        () => undefined,
      ),
    'the server answers',
  );
}
async function untilTrue<T>(look: () => Promise<T | undefined>, what: string): Promise<T> {
  const until = Date.now() + 90_000;
  while (Date.now() < until) {
    const found = await look();
    if (found !== undefined) return found;
    await wait(60);
  }
  throw new Error(`did not happen: ${what}`);
}

beforeAll(async () => {
  const cluster = process.env['EBRIX_TEST_DATABASE'];
  if (!cluster) throw new Error('Server tests need EBRIX_TEST_DATABASE, which `npm test` sets.');
  name = `test_${randomBytes(6).toString('hex')}`;
  admin = knex({ client: 'pg', connection: cluster, pool: { min: 0, max: 2 } });
  await admin.raw(`create database ${name}`);
  const address = new URL(cluster);
  address.pathname = `/${name}`;
  databaseUrl = address.href;
  port = await freePort();
  await start();
  bench = await makeBench({ api: api() } as unknown as Parameters<typeof makeBench>[0]);
  setup = await bench.addSetup('Thrifty');
  loggerId = ((await api().post('/api/bench/loggers').send({ name: 'Box 1' }).expect(201)).body as { id: string }).id;
});
afterAll(async () => {
  server.kill('SIGKILL');
  await admin.raw(`drop database ${name} with (force)`);
  await admin.destroy();
});

const get = async (id: string): Promise<Ride> => (await api().get(`/api/rides/${id}`).expect(200)).body as Ride;
async function armed(): Promise<Ride> {
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

/** A plain logger: 50 lines a second, keeps nothing, and connects again when it is cut off. */
class PlainLogger {
  readonly sentAt: number[] = [];
  private socket: WebSocket | undefined;
  private readonly timer: NodeJS.Timeout;
  private static readonly all: PlainLogger[] = [];
  static stopAll(): void {
    for (const logger of PlainLogger.all.splice(0)) logger.stop();
  }
  constructor(private readonly session: string) {
    PlainLogger.all.push(this);
    this.timer = setInterval(() => this.tick(), 20);
  }
  private tick(): void {
    if (!this.socket) {
      const socket = new WebSocket(`${url().replace('http', 'ws')}/api/logger/stream`);
      this.socket = socket;
      socket.on('error', () => undefined);
      socket.on('close', () => (this.socket = undefined));
      socket.on('open', () =>
        socket.send(
          `${JSON.stringify({ hello: { protocol: 1, logger: loggerId, session: this.session, channels: ['speed', 'distance', 'voltage', 'current'] } })}\n`,
        ),
      );
    }
    const n = this.sentAt.length;
    this.sentAt.push(Date.now());
    if (this.socket.readyState === WebSocket.OPEN)
      this.socket.send(`${JSON.stringify([n, n / 50, 20, n / 9, 50 - n / 1e4, 5])}\n`);
    else this.sentAt[n] = NaN;
  }
  stop(): void {
    clearInterval(this.timer);
    this.socket?.close();
  }
}
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

describe('in mid-run', () => {
  afterEach(() => PlainLogger.stopAll());

  it('the server killed with -9 loses nothing older than a second, and the run goes on', async () => {
    const ride = await armed();
    const logger = new PlainLogger('killed');
    await untilTrue(async () => ((await get(ride.id)).state === 'running' ? true : undefined), 'running');
    await wait(3000);
    const killedAt = Date.now();
    server.kill('SIGKILL');
    await new Promise((resolve) => server.once('exit', resolve));
    const stored = await storedNumbers('killed');
    const old = logger.sentAt.flatMap((at, n) => (at < killedAt - 1000 ? [n] : []));
    expect(old.length).toBeGreaterThan(90);
    expect(old.filter((n) => !stored.has(n))).toEqual([]);

    await start();
    expect((await get(ride.id)).state).toBe('running');
    await untilTrue(async () => {
      const { session } = await get(ride.id);
      return session?.isConnected ? true : undefined;
    }, 'the logger is back');
    await wait(2500);
    const finished = await step(await get(ride.id), 'finished');
    // What is missing is said.
    expect(finished.session!.missing).toBeGreaterThan(0);
    logger.stop();
    await step(finished, 'kept');
    const { allFigures } = await runOf(ride.id);
    expect(allFigures.find(({ key }) => key === 'distance')!.value).toBeGreaterThan(0.02);
  });

  it('the database away for two seconds loses no line', async () => {
    const logger = new PlainLogger('away');
    const ride = await armed();
    await untilTrue(async () => ((await get(ride.id)).state === 'running' ? true : undefined), 'running');
    await wait(700);
    await admin.raw(`alter database ${name} with allow_connections false`);
    await admin.raw(
      'select pg_terminate_backend(pid) from pg_stat_activity where datname = ? and pid <> pg_backend_pid()',
      [name],
    );
    await wait(2000);
    await admin.raw(`alter database ${name} with allow_connections true`);
    await wait(2500);
    logger.stop();
    const sent = logger.sentAt.flatMap((at, n) => (Number.isNaN(at) ? [] : [n]));
    const stored = await untilTrue(async () => {
      const found = await storedNumbers('away');
      return sent.every((n) => found.has(n)) ? found : undefined;
    }, 'every line is stored');
    expect(stored.size).toBeGreaterThanOrEqual(sent.length);
    await step(await untilTrue(() => get(ride.id).catch(() => undefined), 'the ride'), 'finished');
  });
});

describe('the simulated logger', () => {
  const program = (...args: string[]) =>
    run(process.execPath, [join(DIST, 'simulated-logger/main.js'), '--url', url(), '--logger', 'Box 1', ...args]);

  it('rides a course, loses samples, breaks its line and drifts, and the ride becomes a run all the same', async () => {
    const ride = await armed();
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
    const finished = await get(ride.id);
    expect(finished.state).toBe('finished');
    expect(finished.session).toMatchObject({ bad: 0, isEnded: true });
    expect(finished.session!.missing).toBeGreaterThan(5);
    await step(finished, 'kept');
    const { allFigures } = await runOf(ride.id);
    const distance = allFigures.find(({ key }) => key === 'distance')!;
    expect(distance.interval95[0]).toBeLessThan(2.005);
    expect(distance.value).toBeCloseTo(2, 1);
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
