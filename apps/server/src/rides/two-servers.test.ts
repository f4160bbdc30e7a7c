import type { ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import knex, { type Knex } from 'knex';
import request from 'supertest';
import type { Live, Ride, RunDetail } from '@ebrix/contract';
import { urlOfDatabase } from '../database/connect.js';
import { freePort } from '../testing/free-port.js';
import { makeBench, type Bench } from '../testing/make-bench.js';
import { PlainLogger } from '../testing/plain-logger.js';
import { startProcess, untilTrue } from '../testing/processes.js';

let admin: Knex;
let name: string;
let bench: Bench;
const processes: ChildProcess[] = [];
/** Of the server a logger sends to, and of the one a phone looks at. */
let ofLogger: string;
let ofPhone: string;

beforeAll(async () => {
  const cluster = process.env['EBRIX_TEST_DATABASE'];
  if (!cluster) throw new Error('Server tests need EBRIX_TEST_DATABASE, which `npm test` sets.');
  name = `test_${randomBytes(6).toString('hex')}`;
  admin = knex({ client: 'pg', connection: cluster, pool: { min: 0, max: 1 } });
  await admin.raw(`create database ${name}`);
  const databaseUrl = urlOfDatabase(cluster, name);
  const start = async (): Promise<string> => {
    const port = await freePort();
    processes.push(await startProcess('main.js', databaseUrl, port));
    return `http://127.0.0.1:${port}`;
  };
  ofLogger = await start();
  ofPhone = await start();
  for (let k = 0; k < 2; k++) processes.push(await startProcess('worker.js', databaseUrl, 0));
  bench = await makeBench({ api: request(ofPhone) } as unknown as Parameters<typeof makeBench>[0]);
});
afterEach(() => PlainLogger.stopAll());
afterAll(async () => {
  processes.forEach((one) => one.kill('SIGKILL'));
  await admin.raw(`drop database ${name} with (force)`);
  await admin.destroy();
});

/** What a console hears of a ride, newest last. */
function listen(url: string): { readonly live: Live[]; readonly rides: Ride[]; stop: () => void } {
  const heard = { live: [] as Live[], rides: [] as Ride[] };
  const stopping = new AbortController();
  const hear = async (): Promise<void> => {
    const { body } = await fetch(url, { signal: stopping.signal });
    let text = '';
    for await (const piece of body as unknown as AsyncIterable<Uint8Array>) {
      text += Buffer.from(piece).toString();
      const events = text.split('\n\n');
      text = events.pop()!;
      for (const event of events) {
        const kind = /^event: (.*)$/m.exec(event)?.[1];
        const data = /^data: (.*)$/m.exec(event)?.[1];
        if (kind === 'live') heard.live.push(JSON.parse(data!) as Live);
        if (kind === 'ride') heard.rides.push(JSON.parse(data!) as Ride);
      }
    }
  };
  void hear().catch(() => undefined);
  return { ...heard, stop: () => stopping.abort() };
}

describe('two servers and two workers on one database', () => {
  it('a phone on one sees and moves the ride of a logger on the other; the logger may change its server in mid-run', async () => {
    const phone = request(ofPhone);
    const other = request(ofLogger);
    const setup = await bench.addSetup('Thrifty');
    const box = (await phone.post('/api/bench/loggers').send({ name: 'Box' }).expect(201)).body as { id: string };
    const logger = new PlainLogger(ofLogger, box.id, 'split');
    // A second, in which the servers tell each other.
    await logger.untilAcknowledged(70);
    let ride = (
      await phone
        .post('/api/rides')
        .send({ revisionId: setup.revisions[0]!.id, courseId: bench.course.id, testKind: 'range' })
        .expect(201)
    ).body as Ride;
    const console = listen(`${ofPhone}/api/rides/${ride.id}/events`);
    ride = (await phone.put(`/api/rides/${ride.id}`).send({ version: ride.version, loggerId: box.id }).expect(200))
      .body as Ride;
    // It sends already: made ready on this server, the ride finds it on the other.
    ride = (await phone.post(`/api/rides/${ride.id}/step`).send({ from: ride.state, to: 'armed' }).expect(200))
      .body as Ride;
    expect(ride.session).toMatchObject({ session: 'split', isConnected: true });
    await untilTrue(() => Promise.resolve(console.rides.at(-1)?.state === 'running' || undefined), 'it runs');
    const live = await untilTrue(
      () => Promise.resolve(console.live.find(({ elapsedS, distanceM }) => (elapsedS ?? 0) > 1 && distanceM !== null)),
      'readings on the phone',
    );
    expect(live).toMatchObject({ isConnected: true, missing: 0, bad: 0, silentSensors: [] });
    expect(live.values).toContainEqual({ name: 'speed', value: 20, unit: 'km/h' });

    // Its network changes: from now on it reaches the phone's server only.
    logger.url = ofPhone;
    logger.cut();
    await logger.untilAcknowledged(100);
    const seen = (await other.get(`/api/rides/${ride.id}`).expect(200)).body as Ride;
    expect(seen.session).toMatchObject({ isConnected: true, duplicates: 0 });
    // And back again.
    logger.url = ofLogger;
    logger.cut();
    await logger.untilAcknowledged(100);

    const finished = (
      await phone.post(`/api/rides/${ride.id}/step`).send({ from: 'running', to: 'finished' }).expect(200)
    ).body as Ride;
    logger.stop();
    await phone.post(`/api/rides/${ride.id}/step`).send({ from: 'finished', to: 'kept' }).expect(200);
    const runId = await untilTrue(
      async () => ((await other.get(`/api/rides/${ride.id}`)).body as Ride).runId ?? undefined,
      'the run',
    );
    const { allFigures } = (await other.get(`/api/runs/${runId}`).expect(200)).body as RunDetail;
    expect(allFigures.find(({ key }) => key === 'distance')!.value).toBeGreaterThan(0.02);
    console.stop();

    // Nothing that was promised is missing, wherever it came in.
    const database = knex({
      client: 'pg',
      connection: { connectionString: process.env['EBRIX_TEST_DATABASE']!.replace(/[^/]*$/, name) },
    });
    const rows = await database('sample_chunk').select<{ lines: string }[]>('lines');
    await database.destroy();
    const stored = new Set(
      rows.flatMap(({ lines }) => lines.split('\n').map((line) => (JSON.parse(line) as [number])[0])),
    );
    const promised = logger.sent.filter((n) => n <= logger.acknowledged);
    expect(promised.filter((n) => !stored.has(n)).length).toBeLessThanOrEqual(finished.session!.missing);
  });
});
