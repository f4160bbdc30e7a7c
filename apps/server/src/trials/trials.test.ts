import { ROUTES, type RunDetail, type Setup, type Trial, type TrialListItem, type Verdict } from '@ebrix/contract';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

let server: TestApp;
let bench: Bench;
let thrifty: Setup;
let thirsty: Setup;
let outlier: string;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  thrifty = await bench.addSetup('Thrifty');
  thirsty = await bench.addSetup('Thirsty');
  for (const [k, current] of [5.0, 5.1, 4.95].entries()) await bench.addRun(makeRideCsv({ current, salt: k }), thrifty);
  for (const [k, current] of [6.0, 6.1, 5.9].entries())
    await bench.addRun(makeRideCsv({ current, salt: 10 + k }), thirsty);
  outlier = await bench.addRun(makeRideCsv({ current: 2.5, salt: 20 }), thirsty, '=outlier.csv');
});
afterAll(() => server.close());

const addTrial = async (setups: readonly Setup[], courseId: string | null = bench.course.id): Promise<Trial> =>
  (
    await server.api
      .post('/api/trials')
      .send({
        question: 'Which one is thrifty?',
        decidingFigure: 'netConsumption',
        smallestDifference: { kind: 'relative', value: 0.05 },
        courseId,
        revisionIds: setups.map(({ revisions }) => revisions[0]!.id),
      })
      .expect(201)
  ).body as Trial;
const verdictOn = async (trial: Trial): Promise<Verdict> =>
  (await server.api.get(`/api/trials/${trial.id}/verdict`).expect(200)).body as Verdict;

describe('a trial', () => {
  it('says who is better once a run is left out with its reason, and what it says with that run', async () => {
    const trial = await addTrial([thrifty, thirsty]);
    expect((await verdictOn(trial)).comparison!.pairs[0]!.verdict).toBe('cannot-tell');
    const run = (await server.api.get(`/api/runs/${outlier}`)).body as RunDetail;
    await server.api.post(`/api/runs/${outlier}/exclusion`).send({ version: run.version, reason: 'x' }).expect(400);
    const excluded = (
      await server.api
        .post(`/api/runs/${outlier}/exclusion`)
        .send({ version: run.version, reason: 'Pack was not full.' })
        .expect(201)
    ).body as RunDetail;
    expect(excluded.exclusion!.reason).toBe('Pack was not full.');
    const verdict = await verdictOn(trial);
    expect(verdict.headline).toMatch(/^Thrifty uses 1\d(\.\d)? % less energy per km than Thirsty, and it matters\.$/);
    expect(verdict.comparison!.method.name).toBe('Within outings');
    expect(verdict.withExcluded).toMatchObject({ isSame: false });
    expect(verdict.points.filter(({ isExcluded }) => isExcluded)).toHaveLength(1);

    const back = (
      await server.api.delete(`/api/runs/${outlier}/exclusion`).query({ version: excluded.version }).expect(200)
    ).body as RunDetail;
    expect(back.exclusion).toBeNull();
    expect(back.exclusionHistory).toEqual([
      expect.objectContaining({ reason: 'Pack was not full.', undoneAt: expect.any(String) }),
    ]);
    expect((await verdictOn(trial)).withExcluded).toBeNull();
  });

  it('says how far the next ride of each setup will go, and that two rides to the end are needed for the other school', async () => {
    const { ranges } = await verdictOn(await addTrial([thrifty, thirsty]));
    for (const { nextRide, riddenToEmpty } of ranges) {
      expect(nextRide!.lower).toBeLessThan(nextRide!.median);
      expect(nextRide!.median).toBeLessThan(nextRide!.upper);
      expect(riddenToEmpty).toBeNull();
    }
    // The label of the pack is only known to some per cent, and no number of runs changes that.
    expect(ranges[0]!.nextRide!.upper / ranges[0]!.nextRide!.lower).toBeGreaterThan(1.1);
  });

  it('gives a reason, not a number, while a setup has too few runs', async () => {
    const lonely = await bench.addSetup('Lonely');
    const verdict = await verdictOn(await addTrial([thrifty, lonely]));
    expect(verdict.comparison).toBeNull();
    expect(verdict.reason).toContain('Lonely has no run');
  });

  it('counts only runs on its course', async () => {
    const elsewhere = (
      await server.api.post('/api/courses').send({ name: 'Elsewhere', kind: 'climb', surface: 'gravel' })
    ).body as { id: string };
    const trial = await addTrial([thrifty, thirsty], elsewhere.id);
    expect(trial.setups.map(({ countedRuns }) => countedRuns)).toEqual([0, 0]);
  });

  it('stands in the list with its headline, and in its runs', async () => {
    const list = (await server.api.get('/api/trials').expect(200)).body as TrialListItem[];
    expect(list.every(({ headline }) => headline.length > 10)).toBe(true);
    // The first page shows it before its schema is there: nothing is left for that to fill in.
    expect(ROUTES.listTrials.answer.parse(list)).toEqual(list);
    const run = (await server.api.get(`/api/runs/${outlier}`)).body as RunDetail;
    expect(run.trials.length).toBeGreaterThan(0);
  });

  it('does not take a setup twice', async () => {
    const id = thrifty.revisions[0]!.id;
    await server.api
      .post('/api/trials')
      .send({
        question: 'Twice the same?',
        decidingFigure: 'netConsumption',
        smallestDifference: { kind: 'relative', value: 0.05 },
        revisionIds: [id, id],
      })
      .expect(400);
  });
});

describe('the list of runs', () => {
  it('filters, searches literally and sorts', async () => {
    const get = async (query: object) =>
      (await server.api.get('/api/runs').query(query).expect(200)).body as {
        items: { figures: { netConsumption: { value: number } } }[];
        total: number;
      };
    expect((await get({ setup: thrifty.id })).total).toBe(3);
    expect((await get({ text: '%' })).total).toBe(0);
    const { items } = await get({ sort: 'netConsumption', order: 'up' });
    const values = items.map(({ figures }) => figures.netConsumption.value);
    expect(values).toEqual([...values].sort((a, b) => a - b));
    await server.api.get('/api/runs').query({ sort: 'drop table run' }).expect(400);
  });

  it('writes a CSV in which no cell runs as a formula', async () => {
    const { text } = await server.api.get('/api/runs.csv').expect(200);
    expect(text).toContain("'=outlier.csv");
    expect(text).not.toMatch(/(^|,)=/m);
  });

  it('draws a span with few points that keeps the extremes', async () => {
    const whole = (await server.api.get(`/api/runs/${outlier}/strip`).query({ bins: 20 }).expect(200)).body as {
      channels: { name: string; timesS: number[]; high: number[] }[];
    };
    const speed = whole.channels.find(({ name }) => name === 'speed')!;
    expect(speed.timesS.length).toBeLessThanOrEqual(20);
    expect(Math.max(...speed.high)).toBeCloseTo(20.5, 1);
    await server.api.get(`/api/runs/${outlier}/strip`).query({ fromS: 10, toS: 5 }).expect(400);
  });
});
