import type { Outing, RunDetail, RunSummary, SetupDetail, Trial, Verdict } from '@ebrix/contract';
import { startTestBench, waiveAll, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

let server: TestApp;
let bench: Bench;
let setup: SetupDetail;
const runs: Record<'pedalled' | 'throttle' | 'unsaid', string[]> = { pedalled: [], throttle: [], unsaid: [] };
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  setup = await bench.addSetup('One kit');
  for (const [k, current] of [5.0, 5.1, 4.95].entries())
    runs.pedalled.push(await bench.addRun(makeRideCsv({ current, salt: k }), setup));
  for (const [k, current] of [7.0, 7.2, 6.9].entries())
    runs.throttle.push(await bench.addRun(makeRideCsv({ current, salt: 10 + k }), setup));
  runs.unsaid.push(await bench.addRun(makeRideCsv({ current: 6, salt: 20 }), setup));
});
afterAll(() => server.close());

const mend = (runIds: readonly string[], riding: object, more: object = {}) =>
  server.api.post('/api/runs/riding').send({ runIds, riding, ...more });
const runOf = async (id: string): Promise<RunDetail> =>
  (await server.api.get(`/api/runs/${id}`).expect(200)).body as RunDetail;
const addTrial = async (fields: object): Promise<Trial> =>
  (
    await server.api
      .post('/api/trials')
      .send({
        question: 'What does pedalling save?',
        decidingFigure: 'netConsumption',
        smallestDifference: { kind: 'relative', value: 0.05 },
        courseId: bench.course.id,
        ...fields,
      })
      .expect(201)
  ).body as Trial;
const verdictOn = async ({ id }: Trial): Promise<Verdict> =>
  (await server.api.get(`/api/trials/${id}/verdict`).expect(200)).body as Verdict;
const revisionId = (): string => setup.revisions[0]!.id;

describe('how runs were ridden', () => {
  it('is written down for many at once; what is not given stays, and figures are not touched', async () => {
    const before = await runOf(runs.pedalled[0]!);
    expect(before.riding).toMatchObject({ way: null, level: '' });
    expect((await mend(runs.pedalled, { way: 'steady', level: '3' }).expect(200)).body).toEqual({ changed: 3 });
    await mend(runs.throttle, { way: 'throttle' }).expect(200);
    await mend([runs.pedalled[0]!], { payloadKg: 20 }).expect(200);
    const after = await runOf(runs.pedalled[0]!);
    expect(after.riding).toMatchObject({ way: 'steady', level: '3', payloadKg: 20 });
    expect(after.allFigures).toEqual(before.allFigures);
    expect(after.version).toBe(before.version + 2);
    await mend([runs.pedalled[0]!], { payloadKg: null }).expect(200);
    expect((await runOf(runs.pedalled[0]!)).riding.payloadKg).toBeNull();
  });

  it('is refused where it makes no sense, and nothing is half stored', async () => {
    await mend([], { way: 'steady' }).expect(400);
    await mend(runs.pedalled, { way: 'flying' }).expect(400);
    await mend(runs.pedalled, { payloadKg: -1 }).expect(400);
    expect((await runOf(runs.pedalled[1]!)).riding.way).toBe('steady');
  });

  it('is what the list of runs can be filtered by', async () => {
    const found = async (way: string): Promise<number> =>
      ((await server.api.get('/api/runs').query({ way }).expect(200)).body as { total: number }).total;
    expect(await found('throttle')).toBe(3);
    expect(await found('unsaid')).toBe(1);
  });
});

describe('a trial of two ways of riding one setup', () => {
  it('compares them, and leaves the run apart that does not say how it was ridden', async () => {
    const trial = await addTrial({
      arms: [
        { revisionId: revisionId(), riding: { way: 'throttle' } },
        { revisionId: revisionId(), riding: { way: 'steady' } },
      ],
    });
    expect(trial.setups.map(({ countedRuns }) => countedRuns)).toEqual([3, 3]);
    const verdict = await verdictOn(trial);
    expect(verdict.comparison!.setups.map(({ n }) => n)).toEqual([3, 3]);
    expect(verdict.headline).toMatch(
      /^One kit, steady pedalling uses 2\d.*less energy per km than One kit, throttle only/,
    );
    expect(verdict.points.filter(({ apart }) => apart?.kind === 'not-said').map(({ runId }) => runId)).toEqual(
      runs.unsaid,
    );
    const listed = (await server.api.get(`/api/trials/${trial.id}/runs`).expect(200)).body as {
      letter: string;
      apart: string | null;
      run: RunSummary;
    }[];
    expect(listed.find(({ run }) => run.id === runs.unsaid[0])!.apart).toContain('way of riding is not written down');
    expect(listed.find(({ run }) => run.id === runs.pedalled[0])).toMatchObject({ letter: 'B', apart: null });
  });

  it('is refused twice in the same way, and stored by the older name of its field', async () => {
    const twice = { revisionId: revisionId(), riding: { way: 'steady' } };
    await server.api
      .post('/api/trials')
      .send({
        question: 'Twice the same?',
        decidingFigure: 'netConsumption',
        smallestDifference: { kind: 'relative', value: 0.05 },
        arms: [twice, twice],
      })
      .expect(400);
    const old = await addTrial({ revisionIds: [revisionId()] });
    expect(old.setups).toHaveLength(1);
  });
});

describe('a trial against the bike before conversion', () => {
  it('compares what legs alone do with what the kit does, and knows that the motor was off', async () => {
    const { bikeId, change, settings } = { bikeId: bench.bike.id, change: 'As bought', settings: {} };
    const before = (
      await server.api
        .post('/api/setups')
        .send({ name: 'As bought', revision: { bikeId, kitId: null, packIds: [], change, settings } })
        .expect(201)
    ).body as SetupDetail;
    await waiveAll(server, before);
    for (const [k, speed] of [14, 14.4, 13.9].entries()) {
      const id = await bench.addRun(makeRideCsv({ current: 0, speed, salt: 60 + k }), before);
      expect((await runOf(id)).riding.way).toBe('off');
    }
    const trial = await addTrial({
      decidingFigure: 'meanMovingSpeed',
      meantToDiffer: ['meanSpeed'],
      arms: [
        { revisionId: before.revisions[0]!.id, riding: { way: 'off' } },
        { revisionId: revisionId(), riding: { way: 'steady' } },
      ],
    });
    const verdict = await verdictOn(trial);
    expect(verdict.headline).toContain('One kit');
    expect(verdict.comparison!.pairs[0]!.verdict).toBe('better-and-matters');
    expect(verdict.comparison!.setups.map(({ n }) => n)).toEqual([3, 3]);
  });
});

describe('a trial whose runs were ridden differently', () => {
  it('asks instead of averaging, and answers once it is said what is held', async () => {
    const other = await bench.addSetup('Other kit');
    for (const [k, current] of [5.6, 5.7].entries()) {
      const id = await bench.addRun(makeRideCsv({ current, salt: 30 + k }), other);
      await mend([id], { way: 'steady', level: '2' }).expect(200);
    }
    const arms = [{ revisionId: revisionId() }, { revisionId: other.revisions[0]!.id }];
    const trial = await addTrial({ arms });
    const asked = await verdictOn(trial);
    expect(asked.comparison).toBeNull();
    expect(asked.open).toMatchObject({ field: 'way' });
    expect(asked.headline).toContain('not all ridden alike');
    const { version } = trial;
    await server.api
      .put(`/api/trials/${trial.id}`)
      .send({
        version,
        question: trial.question,
        decidingFigure: trial.decidingFigure,
        smallestDifference: trial.smallestDifference,
        courseId: bench.course.id,
        arms,
        heldRiding: { way: 'steady' },
      })
      .expect(200);
    const verdict = await verdictOn(trial);
    expect(verdict.open).toBeNull();
    expect(verdict.comparison!.setups.map(({ n }) => n)).toEqual([3, 2]);
    expect(verdict.points.filter(({ apart }) => apart?.kind === 'ridden-otherwise')).toHaveLength(3);
  });
});

describe('what keeps a verdict from being one', () => {
  it('is a day of its own for each setup, however many runs', async () => {
    const [first, second] = [await bench.addSetup('First day'), await bench.addSetup('Second day')];
    const later = (
      await server.api
        .post('/api/outings')
        .send({ title: 'Morning 2', date: '2026-04-14', airTemperatureC: 12 })
        .expect(201)
    ).body as Outing;
    for (const [k, current] of [5.0, 5.02, 5.01].entries())
      await bench.addRun(makeRideCsv({ current, salt: 40 + k }), first);
    for (const [k, current] of [7.0, 7.02, 7.01].entries()) {
      const id = await bench.addRun(makeRideCsv({ current, salt: 50 + k }), second);
      const run = await runOf(id);
      await server.api
        .put(`/api/runs/${id}`)
        .send({ version: run.version, assignment: { ...bench.assignment(second), outingId: later.id } })
        .expect(200);
    }
    await untilWorkedOut(second);
    const trial = await addTrial({ arms: [first, second].map(({ revisions }) => ({ revisionId: revisions[0]!.id })) });
    const { comparison } = await verdictOn(trial);
    expect(comparison).toMatchObject({ design: 'confounded' });
    expect(comparison!.pairs[0]).toMatchObject({ verdict: 'cannot-tell', refusal: expect.anything() });
    expect(comparison!.pairs[0]!.moreRunsEach).toBeUndefined();
    expect(comparison!.sentences[0]).toContain('Ride both on one outing');
  });

  it('is looking again and again: the second look without a plan is judged more strictly', async () => {
    const trial = await addTrial({
      arms: [
        { revisionId: revisionId(), riding: { way: 'throttle' } },
        { revisionId: revisionId(), riding: { way: 'steady' } },
      ],
    });
    expect((await verdictOn(trial)).look).toMatchObject({ number: 1, level: 0.05 });
    expect((await verdictOn(trial)).look).toMatchObject({ number: 1, level: 0.05 });
    const id = await bench.addRun(makeRideCsv({ current: 5.05, salt: 60 }), setup);
    await mend([id], { way: 'steady', level: '3' }).expect(200);
    const { look } = await verdictOn(trial);
    expect(look).toMatchObject({ number: 2, countedRuns: 7 });
    expect(look!.level).toBeLessThan(0.05);
  });
});

async function untilWorkedOut({ id }: SetupDetail): Promise<void> {
  for (let k = 0; k < 200; k++) {
    const { items } = (await server.api.get('/api/runs').query({ setup: id })).body as { items: RunSummary[] };
    const details = await Promise.all(items.map((run) => runOf(run.id)));
    if (details.every(({ isRecalculating }) => !isRecalculating)) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('the figures were not worked out');
}
