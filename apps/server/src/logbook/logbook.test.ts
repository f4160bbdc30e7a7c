import { v7 as uuidv7 } from 'uuid';
import {
  ROUTES,
  type Conversion,
  type DueList,
  type EntriesPage,
  type Life,
  type LogbookSettings,
  type LogEntry,
  type ReliabilityDto,
  type SetupDetail,
  type Subject,
} from '@ebrix/contract';
import { importOne, startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

let server: TestApp;
let bench: Bench;
let setup: SetupDetail;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  setup = await bench.addSetup('Bread bike');
});
afterAll(() => server.close());

const ofSetup = (): Subject => ({ kind: 'setup', id: setup.id });
const entry = (day: string, details: object, more: object = {}) => ({
  id: uuidv7(),
  subject: ofSetup(),
  day,
  details,
  ...more,
});
const post = (...entries: object[]) => server.api.post('/api/logbook/entries').send({ entries });
const page = async (query = ''): Promise<EntriesPage> =>
  (await server.api.get(`/api/logbook/entries?${query}`).expect(200)).body as EntriesPage;
const lifeOf = async (path: string): Promise<Life> =>
  (await server.api.get(`/api/${path}/life`).expect(200)).body as Life;
const fault = { kind: 'fault', part: 'spokes', effect: 'limped' };
const reading = (km: number) => ({ kind: 'odometer', km });

describe('entries', () => {
  it('sent twice are stored once', async () => {
    const two = [entry('2026-03-01', reading(100)), entry('2026-03-05', fault, { odometerKm: 160, by: 'Ida' })];
    expect((await post(...two).expect(200)).body).toEqual({ stored: 2, already: 0 });
    expect((await post(...two).expect(200)).body).toEqual({ stored: 0, already: 2 });
    const { entries } = await page(`setup=${setup.id}`);
    expect(entries.map(({ day, subjectName }) => [day, subjectName])).toEqual([
      ['2026-03-05', 'Bread bike'],
      ['2026-03-01', 'Bread bike'],
    ]);
    expect(entries[0]!.details).toMatchObject({ kind: 'fault', cause: '', underWarranty: false, daysOff: null });
  });
  it('of one finding are stored once, whoever sends them', async () => {
    const source = `finding:${uuidv7()}`;
    expect(
      (await post(entry('2026-03-06', fault, { source }), entry('2026-03-06', fault, { source })).expect(200)).body,
    ).toEqual({
      stored: 1,
      already: 1,
    });
  });
  it('are stored all or none', async () => {
    const before = (await page()).entries.length;
    const gone = { ...entry('2026-03-07', fault), subject: { kind: 'setup', id: uuidv7() } };
    await post(entry('2026-03-07', fault), gone).expect(404);
    await post(
      entry('2026-03-07', fault),
      entry('2026-03-07', { kind: 'fault', part: 'wings', effect: 'limped' }),
    ).expect(400);
    expect((await page()).entries).toHaveLength(before);
  });
  it.each([
    ['a day that is no day', () => entry('2026-02-30', fault), /day/],
    ['a day to come', () => entry('2199-01-01', fault), /still to come/],
    ['a year of nobody', () => entry('0001-01-01', fault), /Check the year/],
    ['no words in a note', () => entry('2026-03-01', { kind: 'note', words: ' ' }), /Say what happened/],
    ['a distance below zero', () => entry('2026-03-01', reading(-4)), /At least 0/],
    ['a scale of seven', () => entry('2026-03-01', { kind: 'follow-up', stage: 'year', answers: { trust: 7 } }), /5/],
  ])('refuse %s, and say where', async (_what, wrong, message) => {
    const refused = await post(wrong()).expect(400);
    expect(JSON.stringify(refused.body)).toMatch(message);
  });
  it('changed in two windows end in a choice', async () => {
    const one = entry('2026-03-08', { kind: 'note', words: 'Rattles on cobbles' });
    await post(one).expect(200);
    const { id: _id, ...fields } = one;
    const change = (words: string, version: number) =>
      server.api.put(`/api/logbook/entries/${one.id}`).send({ ...fields, details: { kind: 'note', words }, version });
    expect((await change('Mudguard stay loose', 1).expect(200)).body).toMatchObject({ version: 2 });
    const clash = await change('Rack loose', 1).expect(409);
    expect(clash.body.error.details.current.details.words).toBe('Mudguard stay loose');
    await server.api.delete(`/api/logbook/entries/${one.id}?version=1`).expect(409);
    await server.api.delete(`/api/logbook/entries/${one.id}?version=2`).expect(204);
    await server.api.delete(`/api/logbook/entries/${one.id}?version=2`).expect(404);
  });
  it('come page by page, none twice and none left out', async () => {
    const many = Array.from({ length: 25 }, (_, k) =>
      entry(`2026-01-${String(1 + (k % 5)).padStart(2, '0')}`, { kind: 'note', words: `n${k}` }),
    );
    await post(...many).expect(200);
    const seen: LogEntry[] = [];
    let after = '';
    for (let guard = 0; guard < 20; guard++) {
      const { entries, next } = await page(`kind=note&limit=7${after}`);
      seen.push(...entries);
      if (next === null) break;
      after = `&after=${encodeURIComponent(next)}`;
    }
    expect(new Set(seen.map(({ id }) => id)).size).toBe(seen.length);
    expect(seen).toHaveLength(25);
  });
});

describe('a life', () => {
  it('of a setup: rides add theirs, faults have their km, services fall due', async () => {
    const own = await bench.addSetup('Milk bike');
    const [file] = (
      await server.api
        .post('/api/imports')
        .attach('files', Buffer.from(makeRideCsv({ salt: 5, minutes: 8 })), 'ride.csv')
        .expect(201)
    ).body as { id: string; inspection: { mapping: never } | null }[];
    await importOne(
      server,
      file!.id,
      { ...bench.assignment(own), totalMassKg: 110 },
      file!.inspection?.mapping ?? null,
    );
    const ridden = await lifeOf(`setups/${own.id}`);
    expect(ridden.km).toBeGreaterThan(0.5);
    expect(ridden.rate!.words).toContain('No fault in');
    const subject = { kind: 'setup', id: own.id };
    await post(
      entry('2025-06-01', { kind: 'fitted', use: 'milk round' }, { subject, odometerKm: 0 }),
      entry('2025-09-01', { ...fault, part: 'pack' }, { subject, odometerKm: 900 }),
      entry('2026-02-01', reading(2000), { subject }),
      entry('2026-02-01', { kind: 'service', items: ['pack'] }, { subject, cost: { amount: 12, currency: 'EUR' } }),
    ).expect(200);
    const life = await lifeOf(`setups/${own.id}`);
    expect(life.km).toBeGreaterThan(1990);
    expect(life.faults).toMatchObject([{ part: 'pack', km: 900 }]);
    expect(life.rate).toMatchObject({ faults: 1 });
    expect(life.due.find(({ item }) => item.id === 'spokes')).toMatchObject({ state: 'overdue' });
    expect(life.costs).toEqual([{ currency: 'EUR', amount: 12 }]);
    expect(life.followUps.map(({ state }) => state)).toEqual(['due', 'due', 'due']);
    await post(
      entry('2026-02-02', { kind: 'follow-up', stage: 'year', answers: { trust: 4, again: 5 } }, { subject }),
    ).expect(200);
    const asked = await lifeOf(`setups/${own.id}`);
    expect(asked.followUps.map(({ state }) => state)).toEqual(['due', 'due', 'answered']);
    expect(asked.answers).toMatchObject([{ stage: 'year', answers: { trust: 4, again: 5 } }]);
    const bike = await lifeOf(`bikes/${bench.bike.id}`);
    expect(bike.points.at(-1)!.km).toBeGreaterThan(1990);
  });
  it('of nothing that was ever there is a 404, of a setup without entries is empty', async () => {
    await server.api.get(`/api/setups/${uuidv7()}/life`).expect(404);
    await server.api.get(`/api/bikes/${uuidv7()}/life`).expect(404);
    await server.api.get(`/api/conversions/${uuidv7()}/life`).expect(404);
    const bare = await bench.addSetup('Bare');
    expect(await lifeOf(`setups/${bare.id}`)).toMatchObject({ km: 0, faults: [], rate: null, fittedOn: null });
  });
});

it('a run that is deleted takes its kilometres along, and brings them back', async () => {
  const own = await bench.addSetup('Deleted once');
  const runId = await bench.addRun(makeRideCsv({ salt: 21, minutes: 8 }), own);
  const before = await lifeOf(`setups/${own.id}`);
  expect(before.km).toBeGreaterThan(0.5);
  await server.api
    .post('/api/runs/delete')
    .send({ runIds: [runId] })
    .expect(200);
  expect((await lifeOf(`setups/${own.id}`)).km).toBe(0);
  await server.api
    .post('/api/runs/restore')
    .send({ runIds: [runId] })
    .expect(200);
  expect((await lifeOf(`setups/${own.id}`)).km).toBe(before.km);
});

it('a bike with two kits in turn, each with a display of its own, was ridden with both', async () => {
  const bike = (await server.api.post('/api/bench/bikes').send({ name: 'Shared bike' }).expect(201)).body as {
    id: string;
  };
  const on = async (name: string): Promise<Subject> => {
    const made = await server.api
      .post('/api/setups')
      .send({
        name,
        revision: { bikeId: bike.id, kitId: bench.kit.id, packIds: [bench.pack.id], settings: {}, change: 'fitted' },
      })
      .expect(201);
    return { kind: 'setup', id: (made.body as SetupDetail).id };
  };
  const [first, second] = [await on('First kit'), await on('Second kit')];
  await post(
    entry('2025-01-01', reading(0), { subject: first }),
    entry('2025-06-01', reading(900), { subject: first }),
    entry('2025-06-02', reading(0), { subject: second }),
    entry('2025-12-01', reading(400), { subject: second }),
  ).expect(200);
  const life = await lifeOf(`bikes/${bike.id}`);
  expect(life.problems).toEqual([]);
  expect(life.km).toBe(1300);
});

describe('conversions out of sight', () => {
  const add = (more: object) => server.api.post('/api/conversions').send({ name: 'Fleet bike', ...more });
  it('count with the kilometres told; what was put away still counts', async () => {
    const fleet = (
      await add({ kit: 'Kit Fleet', motorKind: 'mid', fittedOn: '2025-05-01', km: 3000, kmOn: '2026-05-01' }).expect(
        201,
      )
    ).body as Conversion;
    const subject = { kind: 'conversion', id: fleet.id };
    await post(
      entry('2025-06-01', { ...fault, part: 'chain' }, { subject, odometerKm: 200 }),
      entry('2025-07-01', { ...fault, part: 'chain' }, { subject, odometerKm: 400 }),
      entry('2025-08-01', { kind: 'replacement', part: 'chain', why: 'worn' }, { subject, odometerKm: 1500 }),
      entry('2026-02-01', { kind: 'replacement', part: 'chain', why: 'worn' }, { subject, odometerKm: 2600 }),
    ).expect(200);
    const get = async (query = ''): Promise<ReliabilityDto> =>
      (await server.api.get(`/api/logbook/reliability?${query}`).expect(200)).body as ReliabilityDto;
    const kits = await get();
    expect(kits.groups.find(({ label }) => label === 'Kit Fleet')).toMatchObject({
      km: 3000,
      faults: 2,
      conversions: 1,
    });
    expect((await get('by=motorKind')).groups.map(({ label }) => label)).toContain('mid motor');
    expect((await get('part=chain')).all!.faults).toBe(2);
    expect(kits.lives.find(({ part }) => part === 'chain')).toMatchObject({ ended: 1 });
    await server.api.put(`/api/conversions/${fleet.id}/archive`).send({ version: 1, archived: true }).expect(200);
    expect((await get()).groups.find(({ label }) => label === 'Kit Fleet')).toMatchObject({ faults: 2 });
    const due = (await server.api.get('/api/logbook/due').expect(200)).body as DueList;
    expect(ROUTES.dueEverywhere.answer.parse(due)).toEqual(due);
    expect(due.map(({ name }) => name)).not.toContain('Fleet bike');
  });
  it('are refused without a day for the km, or with one before fitting, or under a name that is there', async () => {
    await add({ name: 'X', km: 5 }).expect(400);
    await add({ name: 'X', km: 5, kmOn: '2025-01-01', fittedOn: '2025-02-01' }).expect(400);
    await add({ name: 'Twice' }).expect(201);
    await add({ name: 'twice' }).expect(409);
  });
});

describe('the service calendar', () => {
  it('is an iCalendar file whose events keep their identity', async () => {
    const read = async (): Promise<string> => (await server.api.get('/api/logbook/service.ics').expect(200)).text;
    const text = await read();
    expect(text).toMatch(/^BEGIN:VCALENDAR\r\nVERSION:2\.0/);
    const uids = [...text.matchAll(/^UID:(.*)$/gm)].map(([, uid]) => uid);
    expect(uids.length).toBeGreaterThan(3);
    expect(new Set(uids).size).toBe(uids.length);
    expect([...(await read()).matchAll(/^UID:(.*)$/gm)].map(([, uid]) => uid)).toEqual(uids);
    expect(text).toMatch(/DTSTART;VALUE=DATE:\d{8}/);
  });
});

describe('intervals and follow-ups', () => {
  it('are the usual ones until changed; two windows end in a choice', async () => {
    const usual = (await server.api.get('/api/logbook/settings').expect(200)).body as LogbookSettings;
    expect(usual.version).toBe(0);
    const own = { ...usual, items: usual.items.filter(({ part }) => part === 'chain') };
    const put = (body: object) => server.api.put('/api/logbook/settings').send(body);
    expect((await put(own).expect(200)).body).toMatchObject({ version: 1 });
    await put(own).expect(409);
    await put({ ...own, version: 1, items: [{ ...own.items[0]!, everyKm: null, everyDays: null }] }).expect(400);
    await post(entry('2026-03-01', { kind: 'fitted' })).expect(200);
    const life = await lifeOf(`setups/${setup.id}`);
    expect(new Set(life.due.map(({ item }) => item.part))).toEqual(new Set(['chain']));
  });
});

describe('on numbers of one’s own', () => {
  const quick = (body: object) => server.api.post('/api/quick-look/reliability').send(body);
  it('the exact interval and its ratio', async () => {
    const faults = (n: number) => Array.from({ length: n }, (_, k) => ({ km: 100 * (k + 1), part: 'spokes' }));
    const { groups, comparisons } = (
      await quick({
        conversions: [
          { name: 'a', kit: 'A', km: 4200, faults: faults(3) },
          { name: 'b', kit: 'B', km: 5100, faults: faults(9) },
        ],
      }).expect(200)
    ).body as ReliabilityDto;
    expect(groups[0]!.interval95[0]).toBeCloseTo(0.147302886403715, 9);
    expect(groups[0]!.interval95[1]).toBeCloseTo(2.08744596898627, 9);
    expect(comparisons[0]!.ratio).toBeCloseTo(0.404761904761905, 9);
    expect(comparisons[0]!.interval95[0]).toBeCloseTo(0.0704832536505474, 9);
    expect(comparisons[0]!.pValue).toBeCloseTo(0.245985300679324, 9);
  });
  it('refuses what cannot be', async () => {
    await quick({ conversions: [] }).expect(400);
    await quick({ conversions: [{ name: 'a', km: 0 }] }).expect(400);
  });
});
