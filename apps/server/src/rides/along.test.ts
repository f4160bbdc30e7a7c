import { v7 as uuidv7 } from 'uuid';
import { ZipFile } from 'yazl';
import type { Knex } from 'knex';
import type {
  AlongBundle,
  AlongRideInput,
  Photo,
  Plan,
  Ride,
  RunDetail,
  SetupDetail,
  Trial,
  Part,
} from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { alongCourse } from './along-course.js';
import { RunOfRideService } from './run-of-ride.service.js';

let server: TestApp;
let bench: Bench;
let setups: SetupDetail[];
let trial: Trial;
/** While nothing of the plan was ridden. */
let early: AlongBundle;
const plan = async (): Promise<Plan> =>
  ((await server.api.get(`/api/trials/${trial.id}/plan`).expect(200)).body as { plan: Plan }).plan;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  setups = [await bench.addSetup('Thrifty'), await bench.addSetup('Thirsty')];
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
  const slots = [0, 1, 1, 0].map((setup) => ({
    id: null,
    outing: 1,
    revisionId: setups[setup]!.revisions[0]!.id,
    test: 0,
  }));
  await server.api
    .put(`/api/trials/${trial.id}/plan`)
    .send({
      version: null,
      input: { runsPerSetup: 2, outings: 1, tests: [{ testKind: 'range', courseId: bench.course.id }] },
      slots,
    })
    .expect(200);
});
beforeAll(async () => {
  early = await take('that packs');
});
afterAll(() => server.close());

const take = async (phone = 'of Tess'): Promise<AlongBundle> =>
  (
    await server.api
      .post('/api/along')
      .send({ planned: { trialId: trial.id, outing: 1 }, phone })
      .expect(200)
  ).body as AlongBundle;
const MINUTES = 9;
const DAY_MS = 24 * 3600 * 1000;
/** Nine minutes of riding as the phone wrote them down: a line each second. */
const send = (bundle: AlongBundle, session: string, from = 0, to = MINUTES * 60) =>
  server.api
    .post('/api/logger/lines')
    .set('Content-Type', 'application/x-ndjson')
    .send(
      [
        JSON.stringify({
          hello: {
            protocol: 1,
            logger: bundle.logger.id,
            secret: bundle.logger.secret,
            session,
            channels: ['speed', 'distance'],
          },
        }),
        ...Array.from({ length: to - from }, (_, k) =>
          JSON.stringify([from + k, from + k + 0.25, 20, (from + k) * 5.5556]),
        ),
      ].join('\n'),
    );
/** A kept ride of a planned run, ridden yesterday on a phone whose clock is two minutes fast. */
const FAST_MS = 120_000;
const ridden = (bundle: AlongBundle, k: number, change: Partial<AlongRideInput> = {}): AlongRideInput => {
  const planned = bundle.planned[k]!;
  const startMs = Date.now() - DAY_MS + FAST_MS;
  const at = (seconds: number): string => new Date(startMs + seconds * 1000).toISOString();
  return {
    slotId: planned.slot!.id,
    isBesidePlan: false,
    revisionId: planned.setup.revisionId,
    courseId: planned.course.id,
    testKind: planned.testKind,
    direction: planned.direction,
    level: planned.level,
    effort: planned.effort,
    laps: planned.laps,
    riderId: null,
    log: null,
    limits: planned.limits,
    preparation: { ...planned.preparation, airTemperatureC: 14 },
    after: { ...bundle.blank.after, wallEnergyWh: 40 } as AlongRideInput['after'],
    state: 'kept',
    reason: '',
    createdAt: at(-60),
    startedAt: at(2),
    finishedAt: at(MINUTES * 60 - 2),
    fromT: 0,
    toT: MINUTES * 60 - 2,
    marks: [
      {
        id: uuidv7(),
        kind: 'temperature',
        at: at(302),
        elapsedS: null,
        direction: null,
        place: 'motor',
        value: 48,
        text: '',
        isUndone: false,
      },
    ],
    sentAt: new Date(Date.now() + FAST_MS).toISOString(),
    ...change,
  };
};
const bring = (id: string, ride: AlongRideInput) => server.api.put(`/api/along/rides/${id}`).send(ride);
const runOf = async (rideId: string): Promise<RunDetail> => {
  const until = Date.now() + 60_000;
  while (Date.now() < until) {
    const { runId, conversion } = (await server.api.get(`/api/rides/${rideId}`).expect(200)).body as Ride;
    if (conversion?.status === 'failed') throw new Error(conversion.message);
    if (runId !== null) return (await server.api.get(`/api/runs/${runId}`).expect(200)).body as RunDetail;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('no run of the ride');
};

describe('an outing that a phone takes along', () => {
  it('holds its planned runs in order with all that they need, and the phone as a logger', async () => {
    const bundle = await take();
    expect(bundle.planned.map(({ slot }) => slot!.letter)).toEqual(['A', 'B', 'B', 'A']);
    expect(bundle).toMatchObject({ leftHere: 0, title: 'Which one is thrifty?, outing 1' });
    expect(bundle.planned[0]).toMatchObject({ setup: { name: 'Thrifty' }, course: { name: bench.course.name } });
    expect(bundle.setups.map(({ setup }) => setup.name)).toEqual(expect.arrayContaining(['Thrifty', 'Thirsty']));
    // What a wheel sensor is worth by: of the bike, or not known.
    expect(bundle.setups[0]).toMatchObject({ wheelCircumferenceM: (bench.bike as Part<'bikes'>).wheelCircumferenceM });
    expect(bundle.logger.name).toBe('Phone of Tess');
    // Taken again the phone is the same logger, with another secret.
    const again = await take();
    expect(again.logger.id).toBe(bundle.logger.id);
    expect(again.logger.secret).not.toBe(bundle.logger.secret);
    await send(bundle, 'old-secret').expect(403);
  });
  it('ridden the other way round has its start where the finish was', () => {
    const gates = [
      { kind: 'start', name: 'Mill', distanceM: 100 },
      { kind: 'finish', name: 'Ford', distanceM: 900 },
    ] as const;
    const ridden = (direction: 1 | -1) =>
      alongCourse({ ...bench.course, lengthM: 1000, gates: [...gates] }, direction).gates.map(
        ({ kind, name, distanceM }) => `${kind} ${name} ${distanceM}`,
      );
    expect(ridden(1)).toEqual(['start Mill 100', 'finish Ford 900']);
    expect(ridden(-1)).toEqual(['start Ford 100', 'finish Mill 900']);
  });
  it('that nobody planned is refused; without one a phone has setups and courses', async () => {
    await server.api
      .post('/api/along')
      .send({ planned: { trialId: trial.id, outing: 9 }, phone: 'x' })
      .expect(404);
    const free = (await server.api.post('/api/along').send({ phone: 'x' }).expect(200)).body as AlongBundle;
    expect(free).toMatchObject({ planned: [], title: 'Rides outside a plan' });
    expect(free.courses.map(({ name }) => name)).toContain(bench.course.name);
  });
});

describe('a ride that a phone brings back', () => {
  let bundle: AlongBundle;
  beforeAll(async () => {
    bundle = await take();
  });
  it('becomes a run of its plan from its lines, once, however often it is sent', async () => {
    const id = uuidv7();
    const log = { loggerId: bundle.logger.id, session: `along-${id}` };
    const ride = ridden(bundle, 0, { log });
    expect((await bring(id, ride).expect(409)).body).toMatchObject({ error: { code: 'not-there' } });
    // In pieces, with a piece that came before.
    await send(bundle, log.session, 0, 300).expect(200);
    expect((await send(bundle, log.session, 200).expect(200)).body).toMatchObject({ duplicates: 100, stored: 240 });
    const [first, second] = await Promise.all([bring(id, ride), bring(id, ride)]);
    expect([first.status, second.status].filter((status) => status === 200).length).toBeGreaterThan(0);
    const kept = (await bring(id, ride).expect(200)).body as Ride;
    expect(kept.state).toBe('kept');
    // The phone's clock was two minutes fast.
    expect(Math.abs(Date.parse(kept.startedAt!) - (Date.parse(ride.startedAt!) - FAST_MS))).toBeLessThan(30_000);
    expect(kept.marks).toMatchObject([{ kind: 'temperature', elapsedS: 300, value: 48 }]);
    const run = await runOf(id);
    expect(run.slotId).toBe(bundle.planned[0]!.slot!.id);
    const km = run.allFigures.find(({ key }) => key === 'distance')!.value;
    expect(km).toBeCloseTo(((MINUTES * 60 - 2) * 5.5556) / 1000, 1);
    const database = server.app.get<Knex>(KNEX);
    expect(await database('run').where({ slot_id: run.slotId }).whereNull('deleted_at')).toHaveLength(1);
    expect((await plan()).slots[0]).toMatchObject({ state: 'ridden' });
  });
  it('of a run that was ridden elsewhere meanwhile is not taken unseen: beside the plan, or not at all', async () => {
    const other = uuidv7();
    await bring(other, ridden(bundle, 1)).expect(200);
    const id = uuidv7();
    const refusal = (await bring(id, ridden(bundle, 1)).expect(409)).body as {
      error: { code: string; details: Ride };
    };
    expect(refusal.error).toMatchObject({ code: 'changed-meanwhile', details: { id: other } });
    await server.api.get(`/api/rides/${id}`).expect(404);
    const beside = (await bring(id, ridden(bundle, 1, { isBesidePlan: true })).expect(200)).body as Ride;
    expect(beside).toMatchObject({ state: 'kept', slot: null });
    const run = await runOf(other);
    expect((await plan()).slots[1]).toMatchObject({ state: 'ridden', runId: run.id });
  });
  it('of a plan that was made anew says so', async () => {
    const refusal = (await bring(uuidv7(), ridden(bundle, 2, { slotId: uuidv7() })).expect(409)).body as object;
    expect(refusal).toMatchObject({ error: { code: 'not-there', message: expect.stringMatching(/beside the plan/) } });
  });
  it('broken off leaves its run to be ridden, with the reason', async () => {
    const id = uuidv7();
    const ride = (await bring(id, ridden(bundle, 2, { state: 'aborted', reason: 'chain came off' })).expect(200)).body;
    expect(ride).toMatchObject({ state: 'aborted', reason: 'chain came off', runId: null });
    expect((await plan()).slots[2]).toMatchObject({ state: 'planned' });
  });
  it('without a line or a reading stays here as finished, for somebody to write down what was read', async () => {
    const id = uuidv7();
    const bare = ridden(bundle, 3, { marks: [] });
    const left = (await bring(id, { ...bare, after: { ...bare.after, wallEnergyWh: null } }).expect(200)).body as Ride;
    expect(left).toMatchObject({ state: 'finished', runId: null, conversion: null });
    await server.api
      .post(`/api/rides/${id}/step`)
      .send({ from: 'finished', to: 'aborted', reason: 'nothing was read' })
      .expect(200);
  });
  it('that a kill cut off between storing and keeping is finished by sending it again', async () => {
    const id = uuidv7();
    const runs = server.app.get(RunOfRideService);
    const make = jest.spyOn(runs, 'make').mockRejectedValueOnce(new Error('killed'));
    await bring(id, ridden(bundle, 2)).expect(500);
    make.mockRestore();
    expect(((await server.api.get(`/api/rides/${id}`).expect(200)).body as Ride).state).toBe('finished');
    expect(((await bring(id, ridden(bundle, 2)).expect(200)).body as Ride).state).toBe('kept');
    expect((await runOf(id)).slotId).toBe(bundle.planned[2]!.slot!.id);
  });
});

describe('an outing as a file', () => {
  const sendFile = (content: unknown) =>
    server.api
      .post('/api/along/file')
      .attach('file', Buffer.from(typeof content === 'string' ? content : JSON.stringify(content)), 'outing.json');
  it('tells of starts and stops by what the phone felt, and draws them; the channels of the run are those of before', async () => {
    const lines: (number | null)[][] = [];
    const add = (t: number, line: (number | null)[]): void =>
      void lines.push([lines.length, Number(t.toFixed(3)), ...line]);
    let [speed, nextFix] = [0, 0];
    // Five starts of 1.4 m/s² for five seconds; the phone lies on its side, its x forwards.
    for (let k = 0; k < 25 * 150; k++) {
      const t = k / 25;
      const s = t % 30;
      const push = s > 6 && s < 11 ? 1.4 : s > 20 && speed > 0 ? -2.5 : 0;
      speed = Math.max(0, speed + push / 25);
      add(t, [null, push + 0.3 * Math.sin(61 * t), 0.2 * Math.sin(47 * t), 9.81 + 0.4 * Math.sin(53 * t)]);
      if (t >= nextFix) add(t + 0.001, [3.6 * speed, null, null, null]);
      if (t >= nextFix) nextFix++;
    }
    const id = uuidv7();
    const session = `along-${id}`;
    const bundle = await take('that feels');
    const ride = ridden(bundle, 0, {
      slotId: null,
      isBesidePlan: true,
      testKind: 'assist-response',
      log: { loggerId: bundle.logger.id, session },
      fromT: 0,
      toT: 150,
      finishedAt: new Date(Date.now() - DAY_MS + FAST_MS + 150_000).toISOString(),
    });
    const channels = ['speed', 'accelerationX', 'accelerationY', 'accelerationZ'];
    const file = { format: 'ebrix-along', formatVersion: 1, title: 'Felt', phone: 'that feels' };
    expect(
      (await sendFile({ ...file, rides: [{ id, ride, log: { channels, units: {}, lines } }] }).expect(200)).body,
    ).toMatchObject([{ outcome: 'taken' }]);
    const run = await runOf(id);
    const figure = run.allFigures.find(({ key }) => key === 'peakAcceleration')!;
    expect(figure.interval95[0]).toBeLessThan(1.4);
    expect(figure.interval95[1]).toBeGreaterThan(1.4);
    expect(run.allFigures.map(({ key }) => key)).toEqual(expect.arrayContaining(['time0to20', 'deceleration']));
    expect(run.allFigures.map(({ key }) => key)).not.toContain('latency');
    expect(run.charts.map(({ key }) => key)).toEqual(['starts', 'stops']);
    expect(JSON.stringify(run)).toContain('a phone feels the push, not the pedals');
  });
  it('comes in ride by ride with its lines, and once', async () => {
    const bundle = await take('that met nobody');
    const [kept, beside] = [uuidv7(), uuidv7()];
    const log = { loggerId: bundle.logger.id, session: `along-${kept}` };
    const lines = Array.from({ length: MINUTES * 60 }, (_, k) => [k, k + 0.25, 20, k * 5.5556]);
    const file = {
      format: 'ebrix-along',
      formatVersion: 1,
      title: 'Two rides',
      phone: 'that met nobody',
      rides: [
        // Saved three days ago.
        {
          id: kept,
          ride: ridden(bundle, 0, { log, sentAt: new Date(Date.now() - 3 * DAY_MS).toISOString() }),
          log: { channels: ['speed', 'distance'], units: {}, lines },
        },
        { id: beside, ride: ridden(bundle, 0, { slotId: uuidv7() }), log: null },
      ],
    };
    expect((await sendFile(file).expect(200)).body).toMatchObject([
      { id: kept, outcome: 'taken', setup: bundle.planned[0]!.setup.name },
      { id: beside, outcome: 'refused', message: expect.stringMatching(/no longer in it/) },
    ]);
    expect((await sendFile(file).expect(200)).body).toMatchObject([{ outcome: 'was-here' }, { outcome: 'refused' }]);
    const run = await runOf(kept);
    expect(run.allFigures.find(({ key }) => key === 'distance')!.value).toBeCloseTo(2.99, 1);
    const { startedAt } = (await server.api.get(`/api/rides/${kept}`).expect(200)).body as Ride;
    expect(Math.abs(Date.parse(startedAt!) - Date.parse(file.rides[0]!.ride.startedAt!))).toBeLessThan(60_000);
  });
  /** As a phone packs it; names of entries may be spoilt. */
  const packed = async (
    entries: Readonly<Record<string, Buffer | string | object>>,
    compress = true,
  ): Promise<Buffer> => {
    const zip = new ZipFile();
    for (const [name, content] of Object.entries(entries)) {
      const isWhole = typeof content === 'string' || Buffer.isBuffer(content);
      zip.addBuffer(Buffer.from(isWhole ? content : JSON.stringify(content)), name, { compress });
    }
    zip.end();
    const pieces: Buffer[] = [];
    for await (const piece of zip.outputStream) pieces.push(piece as Buffer);
    return Buffer.concat(pieces);
  };
  const sendZip = (bytes: Buffer) => server.api.post('/api/along/file').attach('file', bytes, 'outing.zip');
  const picture = Buffer.from(
    'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
    'base64',
  );
  it('comes in as a zip with lines and photos, each once, and one bad photo keeps out nothing else', async () => {
    const bundle = early;
    const [id, photo, bad, lost] = [uuidv7(), uuidv7(), uuidv7(), uuidv7()];
    const log = { loggerId: bundle.logger.id, session: `along-${id}` };
    const lines = Array.from({ length: MINUTES * 60 }, (_, k) => JSON.stringify([k, k + 0.25, 20, k * 5.5556]));
    const head = {
      format: 'ebrix-along',
      formatVersion: 2,
      title: 'One ride',
      phone: 'that packs',
      rides: [
        {
          id,
          ride: ridden(bundle, 0, { slotId: null, isBesidePlan: true, log }),
          log: { channels: ['speed', 'distance'], units: {} },
        },
      ],
      photos: [
        { id: photo, setupId: setups[0]!.id, caption: 'Chain on the hub' },
        { id: bad, setupId: setups[0]!.id, caption: 'No picture' },
        { id: lost, setupId: uuidv7(), caption: 'Of nothing' },
      ],
    };
    const file = await packed({
      'outing.json': head,
      [`log/${id}.jsonl`]: lines.join('\n'),
      [`photo/${photo}`]: picture,
      [`photo/${bad}`]: 'text',
      [`photo/${lost}`]: picture,
    });
    expect((await sendZip(file).expect(200)).body).toMatchObject([
      { what: 'ride', outcome: 'taken' },
      { what: 'photo', outcome: 'taken', setup: 'Thrifty' },
      { what: 'photo', outcome: 'refused', setup: 'No picture', message: expect.stringContaining('no JPEG') },
      { what: 'photo', outcome: 'refused', message: expect.stringContaining('setup') },
    ]);
    expect((await sendZip(file).expect(200)).body).toMatchObject([
      { outcome: 'was-here' },
      { outcome: 'was-here' },
      { outcome: 'refused' },
      { outcome: 'refused' },
    ]);
    const run = await runOf(id);
    expect(run.allFigures.find(({ key }) => key === 'distance')!.value).toBeCloseTo(2.99, 1);
    const photos = (await server.api.get(`/api/photos?owner=setup&ownerId=${setups[0]!.id}`).expect(200))
      .body as Photo[];
    expect(photos.map(({ caption }) => caption)).toEqual(['Chain on the hub']);
    // What is spoilt is said, with the place, and leaves nothing in the folder for uploads.
    const cut = { 'outing.json': head, [`photo/${photo}`]: picture, [`photo/${bad}`]: '', [`photo/${lost}`]: picture };
    for (const [spoilt, words] of [
      [file.subarray(0, file.length / 2), /not a zip file/],
      [await packed({ 'other.json': '{}' }), /outing.json/],
      [await packed({ 'outing.json': { ...head, phone: '' } }), /phone/],
      [await packed({ 'outing.json': '{"format":' }), /cut short/],
      [await packed(cut), new RegExp(`log/${id}.jsonl is missing`)],
    ] as const)
      expect((await sendZip(spoilt).expect(422)).body).toMatchObject({
        error: { code: 'cannot-read', message: expect.stringMatching(words) },
      });
  });
  it('of which the lines are damaged is refused for that ride alone', async () => {
    const bundle = early;
    const [id, other] = [uuidv7(), uuidv7()];
    const ofRide = (rideId: string) => ({
      id: rideId,
      ride: ridden(bundle, 0, {
        slotId: null,
        isBesidePlan: true,
        log: { loggerId: bundle.logger.id, session: `along-${rideId}` },
      }),
      log: { channels: ['speed', 'distance'], units: {} },
    });
    const lines = Array.from({ length: MINUTES * 60 }, (_, k) => JSON.stringify([k, k + 0.25, 20, k * 5.5556]));
    const file = await packed({
      'outing.json': {
        format: 'ebrix-along',
        formatVersion: 2,
        title: '',
        phone: 'that packs',
        rides: [ofRide(id), ofRide(other)],
        photos: [],
      },
      [`log/${id}.jsonl`]: lines.join('\n'),
      [`log/${other}.jsonl`]: lines.join('\n'),
    });
    // Within the packed lines of the first.
    const at = file.indexOf(`log/${id}.jsonl`) + 200;
    file.fill(0xff, at, at + 40);
    expect((await sendZip(file).expect(200)).body).toMatchObject([
      { outcome: 'refused', message: expect.stringMatching(/damaged/) },
      { outcome: 'taken' },
    ]);
  });
  it('in which a single digit turned takes none of that ride, so that the whole file still brings it right', async () => {
    const bundle = early;
    const id = uuidv7();
    const ride = ridden(bundle, 0, {
      slotId: null,
      isBesidePlan: true,
      log: { loggerId: bundle.logger.id, session: `along-${id}` },
    });
    const lines = Array.from({ length: MINUTES * 60 }, (_, k) => JSON.stringify([k, k + 0.25, 20, k * 5.5556]));
    const log = lines.join('\n');
    const file = await packed(
      {
        'outing.json': {
          format: 'ebrix-along',
          formatVersion: 2,
          title: '',
          phone: 'that packs',
          rides: [{ id, ride, log: { channels: ['speed', 'distance'], units: {} } }],
          photos: [],
        },
        [`log/${id}.jsonl`]: log,
      },
      false,
    );
    const turned = Buffer.from(file);
    const at = file.indexOf(lines.at(-1)!) + lines.at(-1)!.indexOf('2');
    turned[at] = '9'.charCodeAt(0);
    expect((await sendZip(turned).expect(200)).body).toMatchObject([
      { outcome: 'refused', message: expect.stringMatching(/damaged/) },
    ]);
    expect((await sendZip(file).expect(200)).body).toMatchObject([{ outcome: 'taken' }]);
    const run = await runOf(id);
    expect(run.allFigures.find(({ key }) => key === 'distance')!.value).toBeCloseTo(2.99, 1);
  });
  it('that is none is refused with the place', async () => {
    for (const [content, words] of [
      ['{"format":', /cut short/],
      [{ format: 'other' }, /format/],
      [{ format: 'ebrix-along', formatVersion: 1, title: '', phone: 'x', rides: [{ id: 'x' }] }, /rides\.0/],
    ] as const)
      expect((await sendFile(content).expect(422)).body).toMatchObject({
        error: { code: 'cannot-read', message: expect.stringMatching(words) },
      });
  });
});
