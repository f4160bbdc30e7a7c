import type { AddressInfo } from 'node:net';
import { v7 as uuidv7 } from 'uuid';
import WebSocket from 'ws';
import { filter, firstValueFrom } from 'rxjs';
import type { Course, ImportFile, Live, Plan, Ride, RunDetail, SetupDetail, Trial } from '@ebrix/contract';
import { LoggerHub } from '../loggers/logger-hub.js';
import { importOne, startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { LiveService } from './live.service.js';

let server: TestApp;
let bench: Bench;
let setups: SetupDetail[];
let url: string;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  await server.app.listen(0, '127.0.0.1');
  url = `ws://127.0.0.1:${(server.app.getHttpServer() as { address(): AddressInfo }).address().port}/api/logger/stream`;
  setups = [await bench.addSetup('Thrifty'), await bench.addSetup('Thirsty')];
  await server.api.post('/api/bench/loggers').send({ name: 'Box 1' }).expect(201);
});
afterAll(() => server.close());

const hello = (session: string, change: object = {}): string =>
  JSON.stringify({
    hello: {
      protocol: 1,
      logger: 'box 1',
      session,
      channels: ['speed', 'distance', 'voltage', 'current', 'motorTemperature'],
      ...change,
    },
  });
/** A second of riding at 20 km/h. */
const sample = (n: number, t = n, change: { motor?: number; speed?: number } = {}): string =>
  JSON.stringify([n, t, change.speed ?? 20, t * 5.5556, 50 - t / 500, 5, change.motor ?? 30]);
const lines = (from: number, to: number): string[] => Array.from({ length: to - from }, (_, k) => sample(from + k));
const post = (text: string) =>
  server.api.post('/api/logger/lines').set('Content-Type', 'application/x-ndjson').send(text);

const begin = async (input: object): Promise<Ride> =>
  (await server.api.post('/api/rides').send(input).expect(201)).body as Ride;
const free = (change: object = {}): Promise<Ride> =>
  begin({ revisionId: setups[0]!.revisions[0]!.id, courseId: bench.course.id, testKind: 'range', ...change });
const get = async (id: string): Promise<Ride> => (await server.api.get(`/api/rides/${id}`).expect(200)).body as Ride;
const step = (ride: Ride, to: string, reason: string | null = null) =>
  server.api.post(`/api/rides/${ride.id}/step`).send({ from: ride.state, to, reason });
const go = async (ride: Ride, ...to: string[]): Promise<Ride> => {
  for (const one of to) ride = (await step(ride, one).expect(200)).body as Ride;
  return ride;
};
const withLogger = async (ride: Ride): Promise<Ride> => {
  const loggers = (await server.api.get('/api/bench/loggers')).body as { id: string; name: string }[];
  const loggerId = loggers.find(({ name }) => name === 'Box 1')!.id;
  return (await server.api.put(`/api/rides/${ride.id}`).send({ version: ride.version, loggerId }).expect(200))
    .body as Ride;
};
const untilTrue = async <T>(look: () => Promise<T | undefined>, what: string): Promise<T> => {
  const until = Date.now() + 30_000;
  while (Date.now() < until) {
    const found = await look();
    if (found !== undefined) return found;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`did not happen: ${what}`);
};
const runOf = (ride: Ride): Promise<RunDetail> =>
  untilTrue(async () => {
    const { runId, conversion } = await get(ride.id);
    if (conversion?.status === 'failed') throw new Error(conversion.message);
    return runId === null ? undefined : ((await server.api.get(`/api/runs/${runId}`).expect(200)).body as RunDetail);
  }, 'the run of the ride');
const mark = (ride: Ride, kind: string, change: object = {}) =>
  server.api.post(`/api/rides/${ride.id}/marks`).send({
    sentAt: new Date().toISOString(),
    marks: [{ id: uuidv7(), kind, at: new Date().toISOString(), ...change }],
  });
class Socket {
  readonly heard: Record<string, unknown>[] = [];
  closed: number | undefined;
  private constructor(readonly raw: WebSocket) {
    raw.on('message', (data: Buffer) =>
      data
        .toString()
        .split('\n')
        .filter(Boolean)
        .forEach((line) => this.heard.push(JSON.parse(line) as Record<string, unknown>)),
    );
    raw.on('close', (code) => (this.closed = code));
  }
  static async open(): Promise<Socket> {
    const raw = new WebSocket(url);
    const socket = new Socket(raw);
    await new Promise((resolve, reject) => raw.once('open', resolve).once('error', reject));
    return socket;
  }
  say(...text: string[]): void {
    this.raw.send(text.join('\n') + '\n');
  }
  hear(key: string): Promise<unknown> {
    return untilTrue(() => Promise.resolve(this.heard.find((one) => key in one)?.[key]), key);
  }
}

describe('the logger protocol', () => {
  it('over HTTP: stores, drops what came before, answers bad lines and goes on', async () => {
    const first = await post([hello('h1'), sample(0), sample(1), 'nonsense', sample(3), '[4]'].join('\n')).expect(200);
    expect(first.body).toMatchObject({ session: 'h1', next: 2, stored: 3, duplicates: 0 });
    expect(
      (first.body as { bad: { line: number; code: string }[] }).bad.map(({ line, code }) => `${line} ${code}`),
    ).toEqual(['4 not-json', '6 bad-time']);
    const again = await post([hello('h1'), sample(1), sample(2), sample(3), sample(4)].join('\n')).expect(200);
    expect(again.body).toMatchObject({ next: 5, stored: 2, duplicates: 2, bad: [] });
  });
  it('refuses an unknown logger, a request without hello, and other channels within a session', async () => {
    const unknown = await post(hello('h2', { logger: 'Nobody' })).expect(403);
    expect(unknown.body).toMatchObject({ error: { code: 'unknown-logger' } });
    await post(sample(0)).expect(400);
    await post(hello('h1', { channels: ['speed'] })).expect(409);
    await server.api.post('/api/logger/lines').send({ hello: {} }).expect(400);
  });
  it('over WebSocket: welcome, acknowledgement when on disk, resumption', async () => {
    const one = await Socket.open();
    one.say(hello('w1'), sample(0), sample(1), '{"broken"', sample(2));
    expect(await one.hear('welcome')).toEqual({ session: 'w1', next: 0 });
    expect(await one.hear('bad')).toMatchObject({ line: 4, code: 'not-json' });
    expect(await one.hear('ack')).toBe(2);
    one.raw.terminate();
    const two = await Socket.open();
    two.say(hello('w1'));
    expect(await two.hear('welcome')).toEqual({ session: 'w1', next: 3 });
    two.raw.close();
    const foreign = await Socket.open();
    foreign.say(hello('w2', { logger: 'Nobody' }));
    expect(await foreign.hear('error')).toMatchObject({ code: 'unknown-logger' });
    await untilTrue(() => Promise.resolve(foreign.closed), 'closed');
    expect(foreign.closed).toBe(4403);
  });
  it('takes no page of another site, and only on its own path', async () => {
    const refused = (address: string, origin?: string): Promise<string> =>
      new Promise((resolve) => {
        const socket = new WebSocket(address, origin ? { origin } : {});
        socket.on('error', (error) => resolve(error.message)).on('open', () => resolve('open'));
      });
    expect(await refused(url, 'http://elsewhere.invalid')).toContain('403');
    expect(await refused(url.replace('stream', 'other'))).toContain('404');
  });
});

describe('a ride with a logger', () => {
  it('has it to itself: no other ride is armed with it, nor takes it, before the first is over', async () => {
    const first = await go(await withLogger(await free()), 'armed');
    const second = await withLogger(await free());
    const refused = await step(second, 'armed').expect(409);
    expect(refused.body).toMatchObject({ error: { code: 'logger-in-use', details: { rideId: first.id } } });
    expect((await get(second.id)).state).toBe('preparing');
    const third = await go(await free(), 'armed');
    const { id: loggerId } = (await get(first.id)).logger!;
    await server.api.put(`/api/rides/${third.id}`).send({ version: third.version, loggerId }).expect(409);
    await step(third, 'aborted', 'Rain').expect(200);
    const over = await go(first, 'running', 'finished');
    const armed = await go(second, 'armed');
    // Finished by mistake, it does not get its logger back from the next one.
    expect((await step(over, 'running').expect(409)).body).toMatchObject({ error: { code: 'logger-in-use' } });
    await step(over, 'aborted', 'Rain').expect(200);
    await step(armed, 'aborted', 'Rain').expect(200);
  });

  it('starts when the bike moves, ends with the logger, and becomes a run with figures', async () => {
    let ride = await withLogger(await free());
    ride = await go(ride, 'armed');
    const socket = await Socket.open();
    // Two seconds at rest, then the ride; two lines late and one never.
    const ridden = lines(0, 300).filter((_, n) => n !== 50 && n !== 51 && n !== 120);
    socket.say(hello('ride-1'), sample(900, -2, { speed: 0 }), ...ridden.slice(0, 100));
    await socket.hear('welcome');
    await untilTrue(async () => ((await get(ride.id)).state === 'running' ? true : undefined), 'running');
    socket.say(...ridden.slice(100), sample(50), sample(51));
    await mark(ride, 'temperature', { place: 'motor', value: 61 }).expect(200);
    socket.say('{"bye":true}');
    await socket.hear('goodbye');
    ride = await untilTrue(async () => {
      const now = await get(ride.id);
      return now.state === 'finished' ? now : undefined;
    }, 'finished');
    expect(ride.session).toMatchObject({ session: 'ride-1', late: expect.any(Number), bad: 0 });
    // As after a restart of the server: the session is known from what was stored.
    await server.app.get(LoggerHub).flush();
    server.app.get(LoggerHub)['sessions'].clear();
    const { samples, missing } = ride.session!;
    expect((await get(ride.id)).session).toMatchObject({ samples, missing, isConnected: false });
    ride = await go(ride, 'kept');
    const run = await runOf(ride);
    const value = (key: string): number => run.allFigures.find((figure) => figure.key === key)!.value;
    expect(value('distance')).toBeCloseTo((299 * 5.5556) / 1000, 2);
    expect(value('energyOut')).toBeCloseTo((250 * 299) / 3600, 0);
    expect(run.manualReadings).toMatchObject({ temperatures: [{ place: 'motor', valueC: 61 }] });
    expect(run.outing.title).toMatch(/^Ride of/);
  });

  it('keeps the run when it was finished by mistake, and shows stop conditions as they come', async () => {
    let ride = await go(await withLogger(await free()), 'armed');
    const socket = await Socket.open();
    socket.say(hello('hot'), ...lines(0, 5), sample(5, 5, { motor: 96 }));
    await untilTrue(async () => ((await get(ride.id)).state === 'running' ? true : undefined), 'running');
    const heard = server.app.get(LiveService).events(ride.id);
    const { data: live } = (await firstValueFrom(
      heard.pipe(filter((event) => event.type === 'live' && event.data.stops.length > 0)),
    )) as { data: Live };
    expect(live.elapsedS).toBeLessThanOrEqual(5);
    expect(live.stops).toEqual([{ code: 'motor-hot', severity: 'stop', value: 96, limit: 95, coolToC: 60 }]);
    expect(live.values.find(({ name }) => name === 'power')!.value).toBeCloseTo(249.95, 1);
    ride = await get(ride.id);
    expect(
      (await server.api.put(`/api/rides/${ride.id}`).send({ version: ride.version, loggerId: null }).expect(409)).body,
    ).toMatchObject({ error: { code: 'wrong-state' } });
    ride = await go(ride, 'finished', 'running');
    expect(ride.finishedAt).toBeNull();
    await step(ride, 'aborted').expect(409);
    ride = (await step(ride, 'aborted', 'Hub at its limit.').expect(200)).body as Ride;
    expect(ride).toMatchObject({ state: 'aborted', reason: 'Hub at its limit.' });
    await mark(ride, 'note', { text: 'late' }).expect(409);
    socket.raw.close();
  });
});

describe('a ride without a logger', () => {
  it('gives all figures that stopwatch, display and gauge carry', async () => {
    let ride = await free();
    ride = (
      await server.api
        .put(`/api/rides/${ride.id}`)
        .send({
          version: ride.version,
          preparation: {
            ...ride.preparation,
            startVoltageV: 54.2,
            gaugeStart: 4,
            gaugeBars: 4,
            airTemperatureC: 14,
            windMps: 2,
          },
        })
        .expect(200)
    ).body as Ride;
    ride = await go(ride, 'armed', 'running');
    await mark(ride, 'start', { elapsedS: 0 }).expect(200);
    await mark(ride, 'finish', { elapsedS: 1500 }).expect(200);
    ride = await go(await get(ride.id), 'finished');
    ride = (
      await server.api
        .put(`/api/rides/${ride.id}`)
        .send({
          version: ride.version,
          after: {
            ...ride.after,
            tripDistanceKm: 9.2,
            displayMeanKmh: 22.1,
            endVoltageV: 51.4,
            gaugeEnd: 3,
            wallEnergyWh: 130,
          },
        })
        .expect(200)
    ).body as Ride;
    const run = await runOf(await go(ride, 'kept'));
    expect(run.fileName).toMatch(/\.json$/);
    expect(run.channels).toEqual([]);
    expect(run.method.name).toBe('by hand');
    const keys = run.allFigures.map(({ key }) => key);
    expect(keys).toEqual(
      expect.arrayContaining([
        'distance',
        'movingTime',
        'meanMovingSpeed',
        'energyOut',
        'netConsumption',
        'rangeToCutoff',
      ]),
    );
    for (const { interval95, value } of run.allFigures)
      expect(interval95[0] < value && value < interval95[1]).toBe(true);
    expect((await server.api.get(`/api/runs/${run.id}/strip`).expect(200)).body).toMatchObject({ channels: [] });
    const outings = (await server.api.get('/api/outings')).body as { id: string; windMps: number }[];
    expect(outings.find(({ id }) => id === run.outing.id)!.windMps).toBe(2);
  });
  it('is as long as the laps that were ridden, not those that were planned', async () => {
    const input = { name: 'Round', kind: 'loop', surface: 'asphalt', lengthM: 5000 };
    const course = (await server.api.post('/api/courses').send(input).expect(201)).body as { id: string };
    let ride = await go(await free({ courseId: course.id, laps: 4 }), 'armed', 'running');
    await mark(ride, 'start', { elapsedS: 0 }).expect(200);
    for (const elapsedS of [900, 1800]) await mark(ride, 'lap', { elapsedS }).expect(200);
    await mark(ride, 'finish', { elapsedS: 2700 }).expect(200);
    ride = await go(await get(ride.id), 'finished');
    const after = { ...ride.after, laps: 3 };
    ride = (await server.api.put(`/api/rides/${ride.id}`).send({ version: ride.version, after }).expect(200))
      .body as Ride;
    const run = await runOf(await go(ride, 'kept'));
    expect(run.riding.laps).toBe(3);
    const valueOf = (wanted: string) => run.allFigures.find(({ key }) => key === wanted)?.value;
    expect(valueOf('distance')).toBeCloseTo(15, 9);
    expect(valueOf('meanMovingSpeed')).toBeCloseTo(20, 9);
    // Corrected afterwards, for many at once: presses and laps do not fit any more, and the figures follow.
    await server.api
      .post('/api/runs/riding')
      .send({ runIds: [run.id], riding: { laps: 7 } })
      .expect(200);
    const corrected = await untilTrue(async () => {
      const now = (await server.api.get(`/api/runs/${run.id}`).expect(200)).body as RunDetail;
      return now.warnings.some(({ code }) => code === 'laps-unclear') ? now : undefined;
    }, 'recalculated with other laps');
    expect(corrected.allFigures.map(({ key }) => key)).not.toContain('distance');
  });
  it('is not kept with nothing written down', async () => {
    const ride = await go(await free(), 'armed', 'running', 'finished');
    const answer = await step(ride, 'kept').expect(422);
    expect((answer.body as { error: { message: string } }).error.message).toContain('nothing to make a run of');
  });
});

describe('two phones on one ride', () => {
  it('kept ten times at once it makes one run and one outing', async () => {
    const counted = async (): Promise<[outings: number, runs: number]> => [
      ((await server.api.get('/api/outings').expect(200)).body as unknown[]).length,
      ((await server.api.get('/api/runs?pageSize=200').expect(200)).body as { total: number }).total,
    ];
    let ride = await go(await free(), 'armed', 'running');
    await mark(ride, 'start', { elapsedS: 0 }).expect(200);
    await mark(ride, 'finish', { elapsedS: 1500 }).expect(200);
    ride = await go(await get(ride.id), 'finished');
    const after = { ...ride.after, tripDistanceKm: 9.2, displayMeanKmh: 22.1 };
    ride = (await server.api.put(`/api/rides/${ride.id}`).send({ version: ride.version, after }).expect(200))
      .body as Ride;
    const [outings, runs] = await counted();
    const answers = await Promise.all(Array.from({ length: 10 }, () => step(ride, 'kept')));
    expect(answers.map(({ status }) => status).sort()).toEqual([200, ...Array<number>(9).fill(409)]);
    await runOf(await get(ride.id));
    expect(await counted()).toEqual([outings + 1, runs + 1]);
  });

  it('stay in step: a mark sent twice is one, an undone one comes back, a step already taken is told', async () => {
    let ride = await go(await free(), 'armed', 'running');
    const twice = { id: uuidv7(), kind: 'lap', at: new Date().toISOString() };
    const body = { sentAt: new Date().toISOString(), marks: [twice] };
    await server.api.post(`/api/rides/${ride.id}/marks`).send(body).expect(200);
    ride = (await server.api.post(`/api/rides/${ride.id}/marks`).send(body).expect(200)).body as Ride;
    expect(ride.marks).toHaveLength(1);
    ride = (await server.api.post(`/api/rides/${ride.id}/marks/${twice.id}/undo`).send({}).expect(200)).body as Ride;
    expect(ride.marks[0]!.isUndone).toBe(true);
    const finished = await go(ride, 'finished');
    const late = await step(ride, 'finished').expect(409);
    expect((late.body as { error: { details: { current: Ride } } }).error.details.current.state).toBe('finished');
    await step(finished, 'aborted', 'Only a test.').expect(200);
  });
  it('times a mark by the server when the phone’s clock is wrong', async () => {
    const ride = await go(await free(), 'armed', 'running');
    const phone = Date.now() - 3 * 3600 * 1000;
    const marked = (
      await server.api
        .post(`/api/rides/${ride.id}/marks`)
        .send({
          sentAt: new Date(phone).toISOString(),
          marks: [{ id: uuidv7(), kind: 'event', at: new Date(phone - 200).toISOString() }],
        })
        .expect(200)
    ).body as Ride;
    expect(marked.marks[0]!.elapsedS!).toBeLessThan(5);
    await step(marked, 'aborted', 'Only a test.').expect(200);
  });
});

describe('planned runs', () => {
  let trial: Trial;
  const input = (change: object = {}) => ({
    runsPerSetup: 2,
    outings: 1,
    tests: [{ testKind: 'range', courseId: bench.course.id }],
    ...change,
  });
  const slots = (order: readonly number[], ids: readonly (string | null)[] = []) =>
    order.map((setup, k) => ({ id: ids[k] ?? null, outing: 1, revisionId: setups[setup]!.revisions[0]!.id, test: 0 }));
  const save = (body: object) => server.api.put(`/api/trials/${trial.id}/plan`).send(body);
  const plan = async (): Promise<Plan> =>
    ((await server.api.get(`/api/trials/${trial.id}/plan`).expect(200)).body as { plan: Plan }).plan;
  beforeAll(async () => {
    trial = (
      await server.api
        .post('/api/trials')
        .send({
          question: 'Which one is thrifty?',
          decidingFigure: 'netConsumption',
          smallestDifference: { kind: 'relative', value: 0.05 },
          courseId: bench.course.id,
          revisionIds: setups.map(({ revisions }) => revisions[0]!.id),
          heldEqual: ['same rider'],
        })
        .expect(201)
    ).body as Trial;
  });

  it('rest on what the bench and earlier runs know', async () => {
    const { body } = await server.api
      .post(`/api/trials/${trial.id}/plan/basis`)
      .send({ tests: input().tests })
      .expect(200);
    const basis = body as {
      repeatability: { source: string };
      setups: { rides: { durationS: number; energyWh: number; assumed: string[] }[] }[];
    };
    expect(basis.repeatability.source).toBe('usual');
    for (const { rides } of basis.setups) {
      expect(rides[0]!.durationS).toBeGreaterThan(200);
      expect(rides[0]!.energyWh).toBeGreaterThan(2);
    }
    // The second one was not ridden yet: the model, with what the bench does not know.
    expect(basis.setups[1]!.rides[0]!.assumed).toContain('current limit');
  });

  it('are stored in order, ridden in it or out of it, and ticked by their runs', async () => {
    expect(((await server.api.get(`/api/trials/${trial.id}/plan`)).body as { plan: null }).plan).toBeNull();
    await save({ version: null, input: input(), slots: slots([0, 1, 1, 0]) }).expect(200);
    await save({ version: null, input: input(), slots: slots([0, 1]) }).expect(409);
    let stored = await plan();
    expect(stored.slots.map(({ letter, position }) => `${position}${letter}`)).toEqual(['1A', '2B', '3B', '4A']);

    // The second one first: valid, and marked.
    const ride = await begin({ slotId: stored.slots[1]!.id });
    expect(ride.slot).toMatchObject({ letter: 'B', number: 2, of: 4 });
    const [again] = await Promise.all([begin({ slotId: stored.slots[1]!.id })]);
    expect(again.id).toBe(ride.id);
    let now = await go(ride, 'armed', 'running');
    await mark(now, 'start', { elapsedS: 0 });
    await mark(now, 'finish', { elapsedS: 360 });
    now = await go(await get(now.id), 'finished', 'kept');
    const run = await runOf(now);
    expect(run.slotId).toBe(stored.slots[1]!.id);
    stored = await plan();
    expect(stored.slots[1]).toMatchObject({ state: 'ridden', isOutOfOrder: true, runId: run.id });
    await server.api.post('/api/rides').send({ slotId: stored.slots[1]!.id }).expect(409);
  });

  it('change only with a reason once riding has begun, and keep what was ridden', async () => {
    const stored = await plan();
    const ids = stored.slots.map(({ id }) => id);
    const body = { version: stored.version, input: input({ runsPerSetup: 3 }), slots: slots([0, 1, 1, 0, 0, 1], ids) };
    expect((await save(body).expect(409)).body).toMatchObject({ error: { code: 'reason-needed' } });
    const changed = (await save({ ...body, why: 'Wind was up: one more run each.' }).expect(200)).body as Plan;
    expect(changed.changes[0]).toMatchObject({
      why: 'Wind was up: one more run each.',
      what: expect.stringContaining('6 runs'),
    });
    const without = {
      version: changed.version,
      input: input(),
      slots: slots([0, 1], [ids[0]!]),
      why: 'Throw it away.',
    };
    expect((await save(without).expect(409)).body).toMatchObject({ error: { code: 'wrong-state' } });
  });

  it('leave the plan with their setup, and a setup that was ridden by it stays', async () => {
    const [third, first] = [await bench.addSetup('Third'), setups[0]!];
    const [ofFirst, ofThird] = [first.revisions[0]!.id, third.revisions[0]!.id];
    const question = {
      question: 'Does the third one do better?',
      decidingFigure: 'netConsumption',
      smallestDifference: { kind: 'relative', value: 0.05 },
      courseId: bench.course.id,
    };
    const other = (
      await server.api
        .post('/api/trials')
        .send({ ...question, revisionIds: [ofFirst, ofThird] })
        .expect(201)
    ).body as Trial;
    const at = `/api/trials/${other.id}`;
    const order = [ofFirst, ofThird, ofThird, ofFirst].map((revisionId) => ({ outing: 1, revisionId, test: 0 }));
    const saved = (await server.api.put(`${at}/plan`).send({ version: null, input: input(), slots: order }).expect(200))
      .body as Plan;
    const change = async (revisionIds: string[]) => {
      const { version } = (await server.api.get(at)).body as Trial;
      return server.api.put(at).send({ version, ...question, revisionIds });
    };
    expect((await change([ofFirst])).status).toBe(200);
    const { plan: left } = (await server.api.get(`${at}/plan`).expect(200)).body as { plan: Plan };
    expect(left.slots.map(({ letter }) => letter)).toEqual(['A', 'A']);
    expect(left.version).toBe(saved.version + 1);
    expect(left.changes[0]!.what).toBe('A setup left the trial, and 2 planned runs with it.');
    await server.api.get('/api/rides').expect(200);

    const ride = await go(await begin({ slotId: left.slots[0]!.id }), 'armed');
    expect(await change([ofThird])).toMatchObject({ status: 409, body: { error: { code: 'wrong-state' } } });
    expect(((await server.api.get(at)).body as Trial).setups).toHaveLength(1);
    await step(ride, 'aborted', 'Only a test.').expect(200);
  });

  it('come back to the plan when a ride is repeated', async () => {
    const stored = await plan();
    const open = stored.slots.find(({ state }) => state === 'planned')!;
    const ride = await go(await begin({ slotId: open.id }), 'armed', 'running', 'finished');
    await step(ride, 'repeated', 'Wrong level for half the way.').expect(200);
    expect((await plan()).slots.find(({ id }) => id === open.id)!.state).toBe('planned');
    const overview = (await server.api.get('/api/rides').expect(200)).body as {
      next: { slotId: string; openClearance: number }[];
      recent: unknown[];
    };
    expect(overview.next).toContainEqual(expect.objectContaining({ slotId: open.id, openClearance: 0 }));
  });

  it('are not armed while a gate of the setup is open', async () => {
    const revision = {
      bikeId: bench.bike.id,
      kitId: bench.kit.id,
      packIds: [bench.pack.id],
      settings: {},
      change: 'New',
    };
    const setup = (await server.api.post('/api/setups').send({ name: 'Untried', revision }).expect(201))
      .body as SetupDetail;
    const ride = await free({ revisionId: setup.revisions[0]!.id });
    const answer = await step(ride, 'armed').expect(409);
    expect(answer.body).toMatchObject({ error: { code: 'clearance-open', details: { setupId: setup.id } } });
  });
});

describe('gates of a course', () => {
  it('cut its runs anew, after asking', async () => {
    const course = (await server.api.get(`/api/courses/${bench.course.id}`)).body as Course;
    expect(course.runCount).toBeGreaterThan(0);
    const gates = [
      { kind: 'start', name: 'Corner', distanceM: 200 },
      { kind: 'finish', name: 'Quay', distanceM: 1200 },
    ];
    const body = { version: course.version, gates };
    expect((await server.api.put(`/api/courses/${course.id}/gates`).send(body).expect(409)).body).toMatchObject({
      error: { code: 'recut-needed', details: { runs: course.runCount } },
    });
    await server.api
      .put(`/api/courses/${course.id}/gates`)
      .send({ ...body, recutRuns: true })
      .expect(200);
    const runs = (await server.api.get('/api/runs').query({ course: course.id })).body as {
      items: { id: string; fileName: string }[];
    };
    const logged = runs.items.find(({ fileName }) => fileName.endsWith('.csv'))!;
    const recut = await untilTrue(async () => {
      const run = (await server.api.get(`/api/runs/${logged.id}`)).body as RunDetail;
      return run.figureHistory.length > 0 ? run : undefined;
    }, 'cut anew');
    expect(recut.allFigures.find(({ key }) => key === 'distance')!.value).toBeCloseTo(1, 1);
  });
  it('are met where the positions of a log say, also by who set off far before them', async () => {
    const { id, version } = (
      await server.api.post('/api/courses').send({ name: 'Ford lane', kind: 'climb', surface: 'gravel' }).expect(201)
    ).body as Course;
    const north = (m: number): string => (31 + m / 111_195).toFixed(7);
    const points = [0, 250, 500, 750, 1000].map((m) => `<trkpt lat="${north(m)}" lon="-45"><ele>5</ele></trkpt>`);
    const gpx = `<gpx version="1.1" creator="t"><trk><trkseg>${points.join('')}</trkseg></trk></gpx>`;
    await server.api.post(`/api/courses/${id}/track`).attach('file', Buffer.from(gpx), 'lane.gpx').expect(200);
    const gates = [
      { kind: 'start', name: 'Gate', distanceM: 100 },
      { kind: 'finish', name: 'Top', distanceM: 900 },
    ];
    await server.api
      .put(`/api/courses/${id}/gates`)
      .send({ version: version + 1, gates, recutRuns: true })
      .expect(200);
    // 5 m/s from 400 m before the course's first place.
    const rows = Array.from({ length: 301 }, (_, t) => `${t},18,${5 * t},${north(5 * t - 400)},-45`);
    const csv = ['time (s),speed (km/h),distance (m),latitude (deg),longitude (deg)', ...rows].join('\n');
    const setup = await bench.addSetup('Comes from afar');
    const [file] = (await server.api.post('/api/imports').attach('files', Buffer.from(csv), 'lane.csv').expect(201))
      .body as ImportFile[];
    const assignment = { ...bench.assignment(setup), courseId: id };
    const { runId } = await importOne(server, file!.id, assignment, file!.inspection!.mapping);
    const run = (await server.api.get(`/api/runs/${runId!}`)).body as RunDetail;
    const { fromS, toS } = run.spans.find(({ kind }) => kind === 'ride')!;
    expect([fromS, toS]).toEqual([expect.closeTo(100, -1), expect.closeTo(260, -1)]);
  });
  it('lie on the course, in order', async () => {
    const { version, id } = (await server.api.get(`/api/courses/${bench.course.id}`)).body as Course;
    const put = (gates: object[]) =>
      server.api.put(`/api/courses/${id}/gates`).send({ version, gates, recutRuns: true });
    await put([{ kind: 'finish', distanceM: 90_000 }]).expect(400);
    await put([
      { kind: 'start', distanceM: 900 },
      { kind: 'finish', distanceM: 100 },
    ]).expect(400);
  });
  it('a drawn course has the length of its corners', async () => {
    const course = (
      await server.api.post('/api/courses').send({ name: 'Drawn', kind: 'climb', surface: 'gravel' }).expect(201)
    ).body as Course;
    const corners = [
      { eastM: 0, northM: 0 },
      { eastM: 300, northM: 400 },
    ];
    const drawn = (
      await server.api
        .put(`/api/courses/${course.id}/drawing`)
        .send({
          version: course.version,
          corners,
          altitudes: [
            { distanceM: 0, altitudeM: 10 },
            { distanceM: 500, altitudeM: 40 },
          ],
        })
        .expect(200)
    ).body as Course;
    expect(drawn).toMatchObject({ lengthM: 500, track: { climbedM: 30 } });
  });
});
