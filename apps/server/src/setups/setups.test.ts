import type { ImportFile, Part, RevisionInput, Setup, SetupDetail, SetupFile, Trial } from '@ebrix/contract';
import { startTestBench, type TestApp, importOne, waiveAll, type Bench } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

let server: TestApp;
let bench: Bench;
beforeAll(async () => ({ server, bench } = await startTestBench()));
afterAll(() => server.close());

const revision = (more: object = {}): Partial<RevisionInput> => ({
  bikeId: bench.bike.id,
  kitId: bench.kit.id,
  packIds: [bench.pack.id],
  settings: {} as RevisionInput['settings'],
  change: 'As first fitted',
  ...more,
});
const addBare = async (name: string): Promise<SetupDetail> =>
  (await server.api.post('/api/setups').send({ name, revision: revision() }).expect(201)).body as SetupDetail;
const mark = (setup: SetupDetail, body: object) =>
  server.api.post(`/api/revisions/${setup.revisions[0]!.id}/marks`).send(body);

describe('the bike before conversion', () => {
  it('is a setup without kit and pack, which goes into a file and comes back', async () => {
    const baseline = (
      await server.api
        .post('/api/setups')
        .send({ name: 'As bought', revision: revision({ kitId: null, packIds: [] }) })
        .expect(201)
    ).body as SetupDetail;
    expect(baseline.revisions[0]).toMatchObject({ kit: null, packs: [], parts: { kit: null, packs: [] } });
    expect(baseline.clearance).toMatchObject({ failed: 0, open: 0, openClearance: 2 });
    const file = (await server.api.get(`/api/setups/${baseline.id}/file`).expect(200)).body as SetupFile;
    const back = await server.api
      .post('/api/setups/file')
      .attach('file', Buffer.from(JSON.stringify({ ...file, name: 'As bought, again' })), 'setup.json');
    expect(back.body).toMatchObject({ revisions: [{ kit: null }] });
  });
  it.each([
    ['a kit without a pack', { packIds: [] }, /at least one pack/],
    ['a pack without a kit', { kitId: null }, /Without a kit there is no pack/],
  ])('is not %s', async (_what, change, message) => {
    const refused = await server.api
      .post('/api/setups')
      .send({ name: 'Half', revision: revision(change) })
      .expect(400);
    expect(JSON.stringify(refused.body)).toMatch(message);
  });
});

describe('revisions', () => {
  it('made in two windows end in a choice: the second is told of the first and loses nothing', async () => {
    const setup = await addBare('Two windows');
    const add = (body: object) => server.api.post(`/api/setups/${setup.id}/revisions`).send(revision(body));
    await add({ change: 'New tyres', basedOn: 1 }).expect(201);
    const refused = await add({ change: 'Other controller', basedOn: 1 }).expect(409);
    expect(refused.body.error).toMatchObject({
      code: 'changed-meanwhile',
      message: expect.stringContaining('Revision 2'),
      details: { current: { revisions: [{ number: 2, change: 'New tyres' }, { number: 1 }] } },
    });
    const mine = (await add({ change: 'Other controller', basedOn: 2 }).expect(201)).body as SetupDetail;
    expect(mine.revisions.map(({ number, change }) => [number, change])).toEqual([
      [3, 'Other controller'],
      [2, 'New tyres'],
      [1, 'As first fitted'],
    ]);
  });

  it('at the same moment: one of them goes in', async () => {
    const setup = await addBare('Same moment');
    const answers = await Promise.all(
      [1, 2, 3, 4].map((k) =>
        server.api.post(`/api/setups/${setup.id}/revisions`).send(revision({ change: `Change ${k}`, basedOn: 1 })),
      ),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409, 409, 409]);
  });

  it('keep chargers, add-ons, limits and the fit as they were when those change or go', async () => {
    const add = async (kind: string, body: object): Promise<Part> =>
      (await server.api.post(`/api/bench/${kind}`).send(body).expect(201)).body as Part;
    const charger = await add('chargers', { name: 'Charger', outputV: 54.6, outputA: 2, chemistry: 'li-ion-nmc' });
    const arm = await add('add-ons', { name: 'Arm', kind: 'torque-arm', place: 'rear-wheel', torqueNm: 40 });
    const limits = await add('limits', { name: 'Town', maxAssistKmh: 25 });
    const setup = (
      await server.api
        .post('/api/setups')
        .send({
          name: 'Full',
          revision: revision({
            chargerId: charger.id,
            addOnIds: [arm.id, arm.id],
            limitsId: limits.id,
            fit: { washersLeftMm: 0, riderMassKg: 80 },
          }),
        })
        .expect(201)
    ).body as SetupDetail;
    await server.api
      .put(`/api/bench/add-ons/${arm.id}`)
      .send({ version: 1, name: 'Arm', kind: 'torque-arm', place: 'rear-wheel', torqueNm: 99 })
      .expect(200);
    const again = (await server.api.get(`/api/setups/${setup.id}`).expect(200)).body as SetupDetail;
    expect(again.revisions[0]!.parts.addOns.map(({ torqueNm }) => torqueNm)).toEqual([40, 40]);
    expect(again.revisions[0]!.fit).toMatchObject({ washersLeftMm: 0, washersRightMm: null, currency: 'EUR' });
    await server.api.delete(`/api/bench/chargers/${charger.id}`).expect(409);
  });

  it('refuse parts that are not there', async () => {
    const gone = '01900000-0000-7000-8000-000000000000';
    const answer = await server.api
      .post('/api/setups')
      .send({ name: 'Ghost', revision: revision({ chargerId: gone }) })
      .expect(404);
    expect(answer.body.error.message).toContain('The chosen charger');
    const setups = (await server.api.get('/api/setups')).body as Setup[];
    expect(setups.some(({ name }) => name === 'Ghost')).toBe(false);
  });
});

describe('checks and gates', () => {
  it('start open and are told with the setup', async () => {
    const setup = await addBare('Unchecked');
    expect(setup.clearance.openClearance).toBe(setup.clearance.items);
    expect(setup.clearance.stops).toBeGreaterThan(5);
    expect(setup.clearance.passed).toBe(0);
  });

  it('are not signed over what the window has not shown', async () => {
    const setup = await addBare('Signed in two windows');
    const unseen = { ids: ['clearance-cut'], by: 'Bram Tellow', seen: { 'clearance-cut': null } };
    // Both see it open; one comes first.
    const answers = await Promise.all([
      mark(setup, { ...unseen, kind: 'passed' }),
      mark(setup, { ...unseen, kind: 'waived', reason: 'No switches on it.' }),
    ]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
    const clash = answers.find(({ status }) => status === 409)!.body as {
      error: { code: string; details: SetupDetail };
    };
    expect(clash.error.code).toBe('changed-meanwhile');
    const [mine] = clash.error.details.revisions[0]!.marks;
    const unmark = (at: string | null) =>
      server.api
        .post(`/api/revisions/${setup.revisions[0]!.id}/unmark`)
        .send({ ids: ['clearance-cut'], seen: { 'clearance-cut': at } });
    await unmark('2026-01-01T00:00:00.000Z').expect(409);
    await unmark(mine!.at).expect(200);
    const { body } = await unmark(mine!.at).expect(409);
    expect((body as { error: { message: string } }).error.message).toMatch(/withdrawn meanwhile/);
  });
  it('cannot be passed by eye where numbers judge, nor waived without a reason', async () => {
    const setup = await addBare('Marked');
    const by = 'Bram Tellow';
    const passed = await mark(setup, { ids: ['axle-width'], kind: 'passed', by }).expect(409);
    expect(passed.body.error.message).toContain('decided by its numbers');
    await mark(setup, { ids: ['axle-width'], kind: 'waived', by, reason: 'no' }).expect(400);
    await mark(setup, { ids: ['clearance-checks'], kind: 'passed', by }).expect(409);
    await mark(setup, { ids: ['no-such-check'], kind: 'waived', by, reason: 'Because of it.' }).expect(409);
    // What can hurt someone is not waived by the dozen.
    const both = await mark(setup, { ids: ['axle-width', 'clearance-cut'], kind: 'waived', by, reason: 'Looks fine.' });
    expect([both.status, both.body.error.message]).toEqual([409, expect.stringContaining('one by one')]);
    await mark(setup, { ids: ['axle-width'], kind: 'waived', by, reason: 'Measured by hand twice.' }).expect(200);
    const waived = (
      await mark(setup, { ids: ['clearance-cut'], kind: 'waived', by, reason: 'Measured by hand twice.' }).expect(200)
    ).body as SetupDetail;
    expect(waived.clearance).toMatchObject({ waived: 1, openClearance: setup.clearance.openClearance - 1 });
    expect(waived.revisions[0]!.marks[0]).toMatchObject({ by, reason: 'Measured by hand twice.' });
    const back = (
      await server.api
        .post(`/api/revisions/${setup.revisions[0]!.id}/unmark`)
        .send({ ids: ['axle-width', 'clearance-cut'] })
        .expect(200)
    ).body as SetupDetail;
    expect(back.clearance).toEqual(setup.clearance);
  });

  it('hold for a new revision in what the change does not touch, and are open again where something was taken apart', async () => {
    const setup = await bench.addSetup('Cleared once');
    const cleared = (await server.api.get(`/api/setups/${setup.id}`)).body as SetupDetail;
    expect(cleared.clearance.openClearance).toBe(0);
    const revise = async (change: object): Promise<SetupDetail> =>
      (await server.api.post(`/api/setups/${setup.id}/revisions`).send(revision(change)).expect(201))
        .body as SetupDetail;
    const tariff = await revise({ change: 'Electricity went up', fit: { electricityPerKWh: 0.45 } });
    expect(tariff.clearance.openClearance).toBe(0);
    const [first] = cleared.revisions[0]!.marks;
    expect(tariff.revisions[0]!.marks).toContainEqual(first);
    const refitted = await revise({ change: 'Wheel out for a puncture', isRefitted: true });
    // The rider still wears a helmet; all else is looked at again.
    expect(refitted.revisions[0]!.marks.map(({ id }) => id).filter((id) => id.startsWith('clearance'))).toEqual([
      'clearance-helmet',
    ]);
    expect(refitted.clearance.openClearance).toBeGreaterThan(4);
    expect(refitted.revisions[2]!.marks.length).toBeGreaterThan(0);
  });

  it('let a ride that was be taken only with a word in writing, which passes none of them', async () => {
    const setup = await addBare('Not cleared');
    const [file] = (
      await server.api.post('/api/imports').attach('files', Buffer.from(makeRideCsv({ salt: 71 })), 'early.csv')
    ).body as ImportFile[];
    const assignment = {
      setupRevisionId: setup.revisions[0]!.id,
      courseId: bench.course.id,
      outingId: bench.outing.id,
    };
    const item = { importId: file!.id, mapping: file!.inspection!.mapping, assignment };
    const refused = await server.api
      .post('/api/imports/start')
      .send({ items: [item] })
      .expect(409);
    expect(refused.body.error.code).toBe('clearance-open');
    const trial = (
      await server.api
        .post('/api/trials')
        .send({
          question: 'Is it cleared?',
          decidingFigure: 'netConsumption',
          smallestDifference: { kind: 'relative', value: 0.05 },
          revisionIds: [setup.revisions[0]!.id],
        })
        .expect(201)
    ).body as Trial;
    expect(trial.setups[0]!.openClearance).toBe(setup.clearance.openClearance);

    const clearanceWaiver = { by: 'Bram Tellow', reason: 'Ridden before the gates were kept here.' };
    await server.api
      .post('/api/imports/start')
      .send({ items: [{ ...item, clearanceWaiver }] })
      .expect(202);
    const after = (await server.api.get(`/api/setups/${setup.id}`)).body as SetupDetail;
    // The ride that was is taken; what is to be done before the next one stays to be done.
    expect(after.clearance).toEqual(setup.clearance);
    expect(after.revisions[0]!.marks).toEqual([expect.objectContaining({ id: 'past-rides', ...clearanceWaiver })]);
    // A second ride needs no second word.
    const [next] = (
      await server.api.post('/api/imports').attach('files', Buffer.from(makeRideCsv({ salt: 72 })), 'later.csv')
    ).body as ImportFile[];
    const done = await importOne(server, next!.id, assignment, next!.inspection!.mapping);
    expect(done.status).toBe('done');
    // The word was about rides before it: one of a later day asks again.
    const later = (await server.api.post('/api/outings').send({ title: 'Later', date: '2099-01-01' }).expect(201))
      .body as {
      id: string;
    };
    const [after2] = (
      await server.api.post('/api/imports').attach('files', Buffer.from(makeRideCsv({ salt: 73 })), 'after.csv')
    ).body as ImportFile[];
    const lateItem = {
      importId: after2!.id,
      mapping: after2!.inspection!.mapping,
      assignment: { ...assignment, outingId: later.id },
    };
    await server.api
      .post('/api/imports/start')
      .send({ items: [lateItem] })
      .expect(409);
  });
});

describe('a setup as one file', () => {
  const fileOf = async (setup: SetupDetail): Promise<SetupFile> =>
    (await server.api.get(`/api/setups/${setup.id}/file`).expect(200)).body as SetupFile;
  const bring = (text: string) => server.api.post('/api/setups/file').attach('file', Buffer.from(text), 'setup.json');

  it('comes back the same, with the same parts used again', async () => {
    const setup = await bench.addSetup('Out and in');
    const file = await fileOf(setup);
    const parts = ((await server.api.get('/api/bench/kits')).body as Part[]).length;
    const back = (await bring(JSON.stringify(file)).expect(201)).body as SetupDetail;
    expect(back.name).toBe('Out and in (2)');
    expect(back.revisions[0]!.kit!.id).toBe(setup.revisions[0]!.kit!.id);
    expect(((await server.api.get('/api/bench/kits')).body as Part[]).length).toBe(parts);
    expect({ ...(await fileOf(back)), name: file.name }).toEqual(file);
    // Marks are a promise about one bike on one stand: they do not travel.
    expect(back.clearance.openClearance).toBe(back.clearance.items);
  });

  it('adds parts that differ under a free name, and uses those when it comes again', async () => {
    const file = await fileOf(await bench.addSetup('Other kit'));
    const changed = JSON.stringify({ ...file, kit: { ...file.kit, massKg: 5.5 } });
    const names = async () => ((await bring(changed).expect(201)).body as SetupDetail).revisions[0]!.kit!.name;
    expect([await names(), await names()]).toEqual(['Corvane R2 (2)', 'Corvane R2 (2)']);
  });

  it.each([
    ['half a file', '{"format": "ebrix-setup", "na', 'not valid JSON'],
    ['another format', '{"format": "other", "formatVersion": 1}', '"format" has to be "ebrix-setup"'],
    ['a later version', '{"format": "ebrix-setup", "formatVersion": 9}', 'reads setup files of version 1'],
    ['a list', '[]', 'cannot be taken'],
    ['nothing', '', 'not valid JSON'],
  ])('is refused in plain words: %s', async (_what, text, words) => {
    const count = async () => ((await server.api.get('/api/setups')).body as Setup[]).length;
    const before = await count();
    const answer = await bring(text).expect(422);
    expect(answer.body.error).toMatchObject({ code: 'cannot-read', message: expect.stringContaining(words) });
    expect(answer.body.error.message).toContain('Nothing was stored.');
    expect(await count()).toBe(before);
  });

  it('names the field that is wrong and stores no part of it', async () => {
    const file = await fileOf(await bench.addSetup('To break'));
    const kits = ((await server.api.get('/api/bench/bikes')).body as Part[]).length;
    const broken = { ...file, bike: { ...file.bike, name: 'New bike' }, packs: [{ ...file.packs[0], massKg: -3 }] };
    const answer = await bring(JSON.stringify(broken)).expect(422);
    expect(answer.body.error.message).toContain('packs.0.massKg: Must be above 0.');
    expect(((await server.api.get('/api/bench/bikes')).body as Part[]).length).toBe(kits);
  });

  it('is described by a published JSON Schema, and too large a file is refused', async () => {
    const schema = (await server.api.get('/api/schemas/setup.json').expect(200)).body as { properties: object };
    expect(Object.keys(schema.properties)).toContain('packs');
    await server.api
      .post('/api/setups/file')
      .attach('file', Buffer.alloc(3 * 1024 * 1024, 32), 'big.json')
      .expect(413);
  });
});

it('duplicates a setup without its runs and marks', async () => {
  const setup = await bench.addSetup('First of two');
  const copy = (await server.api.post(`/api/setups/${setup.id}/copy`).send({ name: 'Second' }).expect(201))
    .body as SetupDetail;
  expect(copy.revisions).toHaveLength(1);
  expect(copy.revisions[0]).toMatchObject({ change: 'Copied from First of two, revision 1', marks: [], runCount: 0 });
  await server.api.post(`/api/setups/${setup.id}/copy`).send({ name: 'second' }).expect(409);
  await waiveAll(server, copy);
});

it('keeps the tester’s own rules of thumb, none of them to begin with, and lets go of them', async () => {
  expect((await server.api.get('/api/thumb-rules').expect(200)).body).toEqual([]);
  const own = [{ name: 'bread round, level 3', whPerKm: 6.5 }];
  await server.api.put('/api/thumb-rules').send(own).expect(200);
  expect((await server.api.get('/api/thumb-rules')).body).toEqual(own);
  await server.api
    .put('/api/thumb-rules')
    .send([{ name: 'free', whPerKm: 0 }])
    .expect(400);
  const mine = [{ name: 'mine', whPerKm: 9 }];
  const late = await server.api.put('/api/thumb-rules').send({ rules: mine, seen: [] }).expect(409);
  expect(late.body).toMatchObject({ error: { code: 'changed-meanwhile', details: { current: own } } });
  await server.api.put('/api/thumb-rules').send({ rules: mine, seen: own }).expect(200);
  await server.api.put('/api/thumb-rules').send([]).expect(200);
  expect((await server.api.get('/api/thumb-rules')).body).toEqual([]);
});
