import type { ImportFile, OpenSlot, Plan, RunDetail, RunSummary, SetupDetail, Split, Trial } from '@ebrix/contract';
import { startTestBench, importOne, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

let server: TestApp;
let bench: Bench;
let setup: SetupDetail;
let other: SetupDetail;

beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  setup = await bench.addSetup('Corvane R2, 48 V');
  other = await bench.addSetup('Dromel D5, 48 V');
});
afterAll(() => server.close());

const get = async (id: string): Promise<RunDetail> =>
  (await server.api.get(`/api/runs/${id}`).expect(200)).body as RunDetail;
const listed = async (query = ''): Promise<string[]> =>
  ((await server.api.get(`/api/runs?pageSize=200${query}`).expect(200)).body as { items: RunSummary[] }).items.map(
    ({ id }) => id,
  );
const send = async (path: string, runIds: string[]): Promise<number> =>
  ((await server.api.post(`/api/runs/${path}`).send({ runIds }).expect(200)).body as { changed: number }).changed;
async function workedOut(id: string): Promise<RunDetail> {
  for (let tries = 0; tries < 400; tries++) {
    const run = await get(id);
    if (!run.isRecalculating) return run;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('not worked out');
}
/** Two rides, half an hour apart, that one logger wrote into one file; 20 km/h and 30 km/h. */
function twoRidesCsv(salt: number): string {
  const rows = ['time (s),speed (km/h),voltage (V),current (A)'];
  for (const [from, kmh] of [
    [0, 20],
    [2400, 30],
  ] as const)
    for (let t = 0; t < 600; t++) {
      const v = t < 10 || t > 590 ? 0 : kmh + 0.2 * Math.sin(t + salt);
      rows.push([from + t, v.toFixed(2), (50 - t / 1000).toFixed(2), (v / 5).toFixed(2)].join(','));
    }
  return rows.join('\n');
}
async function stage(csv: string, name: string): Promise<ImportFile> {
  const [file] = (await server.api.post('/api/imports').attach('files', Buffer.from(csv), name).expect(201))
    .body as ImportFile[];
  return file!;
}

describe('a deleted run', () => {
  it('is in no list, count or export, and comes back as it was', async () => {
    const id = await bench.addRun(makeRideCsv({ salt: 21 }), setup);
    const before = await get(id);
    expect(await send('delete', [id])).toBe(1);
    expect(await listed()).not.toContain(id);
    expect(await listed('&state=deleted')).toEqual([id]);
    expect((await server.api.get('/api/runs.csv').expect(200)).text).not.toContain(id);
    const detail = (await server.api.get(`/api/setups/${setup.id}`).expect(200)).body as SetupDetail;
    expect(detail.revisions[0]!.runCount).toBe(0);
    expect((await get(id)).deletedAt).not.toBeNull();
    expect(await send('delete', [id])).toBe(0);
    expect(await send('restore', [id])).toBe(1);
    const { version, ...after } = await get(id);
    expect({ ...after, version: before.version }).toEqual(before);
    expect(version).toBe(before.version + 2);
  });

  it('makes room for the same file, brought in anew', async () => {
    const csv = makeRideCsv({ salt: 22 });
    const id = await bench.addRun(csv, setup);
    expect((await stage(csv, 'again.csv')).status).toBe('known');
    await send('delete', [id]);
    const again = await bench.addRun(csv, other);
    expect(again).not.toBe(id);
    expect((await get(again)).setup.name).toBe(other.name);
    await server.api.get(`/api/runs/${id}`).expect(404);
  });
});

describe('two rides in one file', () => {
  it('are seen as such when the file comes in', async () => {
    const file = await stage(twoRidesCsv(1), 'two.csv');
    expect(file.inspection!.longGaps).toEqual([{ startS: 599, endS: 2400 }]);
  });

  it('become two runs of two setups from the run that they were made into, and go when that one comes back', async () => {
    const id = await bench.addRun(twoRidesCsv(2), setup, 'one.csv');
    const whole = await get(id);
    const { runs } = (await server.api.get(`/api/runs/${id}/split`).expect(200)).body as Split;
    expect(runs.map(({ fromS }) => Math.round(fromS / 100))).toEqual([0, 24]);
    const parts = runs.map(({ fromS, toS }, k) => ({
      logSpan: { fromS, toS },
      testKind: 'range',
      courseId: bench.course.id,
      ...(k === 1 && { setupRevisionId: other.revisions[0]!.id, riding: { way: 'throttle' } }),
    }));
    const { runIds } = (
      await server.api.post(`/api/runs/${id}/split`).send({ version: whole.version, parts }).expect(200)
    ).body as { runIds: string[] };
    const [slow, fast] = [await workedOut(runIds[0]!), await workedOut(runIds[1]!)];
    const speed = (run: RunDetail): number => run.allFigures.find(({ key }) => key === 'meanMovingSpeed')!.value;
    expect(speed(slow)).toBeCloseTo(20, 0);
    expect(speed(fast)).toBeCloseTo(30, 0);
    expect([slow.setup.name, fast.setup.name, fast.riding.way]).toEqual([setup.name, other.name, 'throttle']);
    expect(await listed()).not.toContain(id);
    await send('restore', [id]);
    const now = await listed();
    expect(now).toContain(id);
    expect(now).not.toEqual(expect.arrayContaining([runIds[0]]));
    await send('restore', [runIds[1]!]);
    expect(await listed()).not.toContain(id);
  });

  it('stay left out where they were left out as one', async () => {
    const id = await bench.addRun(twoRidesCsv(5), setup, 'left-out.csv');
    const { version } = (
      await server.api.post(`/api/runs/${id}/exclusion`).send({ version: 1, reason: 'Pack not full' }).expect(201)
    ).body as RunDetail;
    const part = { logSpan: { fromS: 0, toS: 500 }, testKind: 'range', courseId: bench.course.id };
    const { runIds } = (
      await server.api
        .post(`/api/runs/${id}/split`)
        .send({ version, parts: [part] })
        .expect(200)
    ).body as { runIds: string[] };
    expect((await get(runIds[0]!)).exclusion).toMatchObject({ reason: 'Pack not full' });
  });

  it('are not split from a version that is no more, nor outside the run; nothing changes then', async () => {
    const id = await bench.addRun(twoRidesCsv(3), setup, 'kept.csv');
    const part = { logSpan: { fromS: 0, toS: 500 }, testKind: 'range', courseId: bench.course.id };
    await server.api
      .post(`/api/runs/${id}/split`)
      .send({ version: 99, parts: [part] })
      .expect(409);
    const outside = { ...part, logSpan: { fromS: 0, toS: 9000 } };
    const refused = await server.api
      .post(`/api/runs/${id}/split`)
      .send({ version: 1, parts: [outside] })
      .expect(400);
    expect((refused.body as { error: { message: string } }).error.message).toContain('does not lie in this run');
    const gone = { ...part, courseId: '01900000-0000-7000-8000-00000000dead' };
    await server.api
      .post(`/api/runs/${id}/split`)
      .send({ version: 1, parts: [gone] })
      .expect(409);
    expect((await get(id)).deletedAt).toBeNull();
  });
});

describe('planned runs', () => {
  it('are ticked by an import that says so, and are free again when it is deleted', async () => {
    const trial = (
      await server.api
        .post('/api/trials')
        .send({
          question: 'Which needs less?',
          decidingFigure: 'netConsumption',
          smallestDifference: { kind: 'relative', value: 0.05 },
          arms: [setup, other].map(({ revisions }) => ({ revisionId: revisions[0]!.id })),
        })
        .expect(201)
    ).body as Trial;
    const slots = [setup, other].map(({ revisions }) => ({ outing: 1, revisionId: revisions[0]!.id, test: 0 }));
    const input = { runsPerSetup: 1, outings: 1, tests: [{ testKind: 'range', courseId: bench.course.id, laps: 2 }] };
    await server.api.put(`/api/trials/${trial.id}/plan`).send({ version: null, input, slots }).expect(200);
    const open = async (): Promise<OpenSlot[]> =>
      (await server.api.get('/api/plans/open-slots').expect(200)).body as OpenSlot[];
    const [first, second] = await open();
    expect([first!.letter, second!.letter, first!.number, second!.number]).toEqual(['A', 'B', 1, 2]);
    expect(first).toMatchObject({ setup: setup.name, testKind: 'range', riding: { way: 'steady', laps: 2 } });
    const file = await stage(twoRidesCsv(4), 'planned.csv');
    const parts = [first!, second!].map(({ slotId, revisionId, riding, courseId }, k) => ({
      logSpan: { fromS: 2400 * k, toS: 2400 * k + 595 },
      testKind: 'range',
      courseId,
      setupRevisionId: revisionId,
      riding,
      slotId,
    }));
    const done = await importOne(server, file.id, bench.assignment(setup), file.inspection!.mapping, null, parts);
    expect(done.runCount).toBe(2);
    expect(await open()).toEqual([]);
    const { plan } = (await server.api.get(`/api/trials/${trial.id}/plan`).expect(200)).body as { plan: Plan };
    const [runOfFirst] = plan.slots.map(({ runId }) => runId);
    expect((await get(runOfFirst!)).riding.laps).toBe(2);
    await send('delete', [runOfFirst!]);
    expect((await open()).map(({ slotId }) => slotId)).toEqual([first!.slotId]);
    await send('restore', [runOfFirst!]);
    expect(await open()).toEqual([]);
  });
});

describe('runs corrected together', () => {
  it('take another outing and a wheel put right, and their figures follow', async () => {
    const id = await bench.addRun(makeRideCsv({ salt: 23 }), setup);
    const before = await get(id);
    const distance = (run: RunDetail): number => run.allFigures.find(({ key }) => key === 'distance')!.value;
    await server.api
      .post('/api/runs/riding')
      .send({ runIds: [id], riding: {}, wheelFactor: 0.9 })
      .expect(200);
    const after = await workedOut(id);
    expect(after.wheelFactor).toBe(0.9);
    expect(distance(after)).toBeCloseTo(0.9 * distance(before), 6);
    expect(after.warnings.map(({ code }) => code)).toContain('wheel-corrected');
    await server.api
      .post('/api/runs/riding')
      .send({ runIds: [id], riding: {}, wheelFactor: null })
      .expect(200);
    expect(distance(await workedOut(id))).toBeCloseTo(distance(before), 9);
    await server.api
      .post('/api/runs/riding')
      .send({ runIds: [id], riding: {}, wheelFactor: 30 })
      .expect(400);
  });
});
