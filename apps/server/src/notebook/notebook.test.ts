import type { ImportFile, NotebookAnswer, RunDetail, SetupDetail, Trial, Verdict } from '@ebrix/contract';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';

let server: TestApp;
let bench: Bench;
beforeAll(async () => ({ server, bench } = await startTestBench()));
afterAll(() => server.close());

const ride = (setup: string, date: string, more: object = {}, readings: object = {}) => ({
  setup,
  date,
  riding: { way: 'steady' },
  gauge: { start: 5, end: 3, bars: 5 },
  readings: { tripDistanceKm: 9.4, tripStepKm: 0.1, durationS: 1500, durationStepS: 60, ...readings },
  ...more,
});
const sketch = (name: string) => ({
  written: name,
  sketch: { name, motorKind: 'front-hub', packVoltageV: 36, packCapacityAh: 11 },
});
const store = (body: object) => server.api.post('/api/notebook').send(body);
const until = async <T>(ask: () => Promise<T | undefined>): Promise<T> => {
  for (let k = 0; k < 200; k++) {
    const answer = await ask();
    if (answer !== undefined) return answer;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('It did not come.');
};
const filesOf = (ids: readonly string[]): Promise<ImportFile[]> =>
  until(async () => {
    const files = ((await server.api.get('/api/imports')).body as ImportFile[]).filter(({ id }) => ids.includes(id));
    return files.length === ids.length && files.every(({ status }) => /done|known|failed/.test(status))
      ? files
      : undefined;
  });
const count = async (path: string): Promise<number> => {
  const body = (await server.api.get(path).expect(200)).body as unknown[] | { total: number };
  return Array.isArray(body) ? body.length : body.total;
};

describe('rides out of a notebook', () => {
  it('become runs of setups that are sketched on the spot, and compare by what display and gauge showed', async () => {
    const days = ['2026-04-12', '2026-04-19', '2026-04-26', '2026-05-03'];
    const answer = (
      await store({
        setups: [sketch('Front hub'), sketch('Old kit')],
        rides: days.flatMap((day, k) => [
          ride('Front hub', day, { gauge: null }, { restVoltageStartV: 41.9, restVoltageEndV: 39.6 - 0.05 * k }),
          ride('Old kit', day, { gauge: null }, { restVoltageStartV: 41.9, restVoltageEndV: 38.0 + 0.05 * k }),
        ]),
      }).expect(201)
    ).body as NotebookAnswer;
    expect(answer.importIds).toHaveLength(8);
    const files = await filesOf(answer.importIds);
    expect(files.map(({ status }) => status)).toEqual(new Array(8).fill('done'));
    const run = (await server.api.get(`/api/runs/${files[0]!.runId!}`).expect(200)).body as RunDetail;
    expect(run.course.name).toBe('On the road');
    expect(run.riding.way).toBe('steady');
    const figure = (key: string) => run.allFigures.find((one) => one.key === key)!;
    expect(figure('distance')).toMatchObject({ value: 9.4, unit: 'km' });
    expect(figure('movingTime')).toMatchObject({ value: 1500, unit: 's' });
    expect(figure('netConsumption').standardUncertainty).toBeGreaterThan(0.5);
    const trial = (
      await server.api
        .post('/api/trials')
        .send({
          question: 'Which kit uses less?',
          decidingFigure: 'netConsumption',
          smallestDifference: { kind: 'relative', value: 0.05 },
          arms: answer.setups.map(({ revisionId }) => ({ revisionId })),
        })
        .expect(201)
    ).body as Trial;
    const verdict = (await server.api.get(`/api/trials/${trial.id}/verdict`).expect(200)).body as Verdict;
    // Four days, each with both: within outings.
    expect(verdict.comparison!.design).toBe('blocked');
    expect(verdict.comparison!.setups.map(({ n }) => n)).toEqual([4, 4]);
    expect(verdict.headline).toContain('Front hub');
  });

  it('brought in twice are known; two rides that read alike are two', async () => {
    const body = {
      setups: [{ written: 'mine', revisionId: (await bench.addSetup('Mine')).revisions[0]!.id }],
      rides: [ride('mine', '2026-06-01'), ride('MINE ', '2026-06-01'), ride('mine', '2026-06-01')],
    };
    const first = await filesOf(((await store(body).expect(201)).body as NotebookAnswer).importIds);
    expect(first.map(({ status }) => status)).toEqual(['done', 'done', 'done']);
    const runs = await count('/api/runs');
    const again = await filesOf(((await store(body).expect(201)).body as NotebookAnswer).importIds);
    expect(again.map(({ status }) => status)).toEqual(['known', 'known', 'known']);
    expect(await count('/api/runs')).toBe(runs);
  });

  it('are stored all or none', async () => {
    const before = [await count('/api/setups'), await count('/api/courses'), await count('/api/outings')];
    const gone = '01900000-0000-7000-8000-00000000dead';
    await store({
      setups: [sketch('Half'), { written: 'gone', revisionId: gone }],
      rides: [ride('Half', '2026-06-02', { course: 'Mill lane' }), ride('gone', '2026-06-02')],
    }).expect(404);
    await store({ setups: [sketch('Half')], rides: [ride('Other', '2026-06-02', { course: 'Mill lane' })] }).expect(
      400,
    );
    await store({ setups: [sketch('Half')], rides: [ride('Half', '2026-06-31')] }).expect(400);
    await store({ setups: [{ written: 'x' }], rides: [ride('x', '2026-06-02')] }).expect(400);
    expect([await count('/api/setups'), await count('/api/courses'), await count('/api/outings')]).toEqual(before);
  });

  it('of a name that is there are given a free one, and the sketch leaves all else unknown', async () => {
    const body = { setups: [sketch('Mine')], rides: [ride('Mine', '2026-06-03')] };
    const { setups } = (await store(body).expect(201)).body as NotebookAnswer;
    expect(setups[0]!.name).toBe('Mine (2)');
    const list = (await server.api.get('/api/setups').expect(200)).body as SetupDetail[];
    const one = list.find(({ name }) => name === 'Mine (2)')!;
    expect(one.clearance.openClearance).toBeGreaterThan(0);
  });
});
