import { TEST_KINDS } from '@ebrix/core/analysis';
import type {
  ImportFile,
  Reanalysis,
  RepeatedFigure,
  RunDetail,
  RunSummary,
  SetupDetail,
  Split,
} from '@ebrix/contract';
import { startTestBench, type TestApp, importOne, type Bench } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';
import { JobWorkers } from '../jobs/job-workers.js';
import { AnalysisRequests } from '../jobs/analysis-requests.js';
import { ReanalysisRepository } from './reanalysis.repository.js';
import { RunFigureRepository } from './run-figure.repository.js';
import { RunRepository } from './run.repository.js';
import { KNEX } from '../database/database.module.js';
import type { Knex } from 'knex';

let server: TestApp;
let bench: Bench;
let setup: SetupDetail;

beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  setup = await bench.addSetup('Corvane R2, 48 V');
});
afterAll(() => server.close());

const get = async (id: string): Promise<RunDetail> =>
  (await server.api.get(`/api/runs/${id}`).expect(200)).body as RunDetail;
const valueOf = (run: RunDetail, key: string): number => run.allFigures.find((figure) => figure.key === key)!.value;
async function until<T>(look: () => Promise<T | undefined>, what: string): Promise<T> {
  const end = Date.now() + 30_000;
  while (Date.now() < end) {
    const found = await look();
    if (found !== undefined) return found;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`not in time: ${what}`);
}
const waitForAnalysis = (id: string): Promise<RunDetail> =>
  until(async () => {
    const run = await get(id);
    return run.isRecalculating ? undefined : run;
  }, 'worked out again');
/** Four passes, there and back, of a bike that goes 24 and 26 km/h. */
function passesCsv(salt: number): string {
  const rows = ['time (s),speed (km/h),distance (m),voltage (V),current (A)'];
  let way = 0;
  for (let t = 0; t < 240; t += 0.5) {
    const within = t % 60;
    const top = Math.floor(t / 60) % 2 === 0 ? 24 : 26;
    const v = within < 12 ? (top * within) / 12 : within < 48 ? top : within < 54 ? (top * (54 - within)) / 6 : 0;
    way += (v / 3.6) * 0.5;
    rows.push(
      [
        t,
        (v + 0.05 * Math.sin(t + salt)).toFixed(2),
        way.toFixed(1),
        '50.0',
        (v / 4 + 0.02 * Math.sin(3 * t)).toFixed(2),
      ].join(','),
    );
  }
  return rows.join('\n');
}
async function stage(csv: string, name = 'ride.csv'): Promise<ImportFile> {
  const [file] = (await server.api.post('/api/imports').attach('files', Buffer.from(csv), name).expect(201))
    .body as ImportFile[];
  return file!;
}
const assignment = (more: object = {}): object => ({
  setupRevisionId: setup.revisions[0]!.id,
  courseId: bench.course.id,
  outingId: bench.outing.id,
  ...more,
});

describe('a run of another kind than range', () => {
  it('comes with the spans it rests on and what there is to see', async () => {
    const file = await stage(passesCsv(1), 'passes.csv');
    const { runId } = await importOne(server, file.id, assignment({ testKind: 'top-speed' }), file.inspection!.mapping);
    const run = await get(runId!);
    expect(run.spans.map(({ kind, direction }) => [kind, direction])).toEqual(
      [1, -1, 1, -1].map((way) => ['pass', way]),
    );
    expect(run.charts.map(({ key }) => key)).toEqual(['passes']);
    expect(valueOf(run, 'twoWayTopSpeed')).toBeCloseTo(25, 0);
    expect(run.headline).toMatchObject({ key: TEST_KINDS['top-speed'].headline });
    // A consumption between passes is no figure of a top-speed test.
    expect(run.allFigures.some(({ key }) => key === 'netConsumption')).toBe(false);
  });
});

describe('spans set by a tester', () => {
  it('are worked out, kept in the history, and undone', async () => {
    const file = await stage(passesCsv(2), 'to-correct.csv');
    const { runId } = await importOne(server, file.id, assignment({ testKind: 'top-speed' }), file.inspection!.mapping);
    const before = await get(runId!);
    const spans = before.spans.map(({ label: _label, ...span }) => span);
    const slower = [{ ...spans[0]!, fromS: spans[0]!.fromS, toS: spans[0]!.fromS + 3 }, ...spans.slice(1, 2)];
    const slowRequest = await server.api
      .put(`/api/runs/${runId}/spans`)
      .send({
        version: before.version,
        spans: [{ ...slower[0]!, fromS: 4, toS: 9 }, slower[1]!],
        what: 'Pass 1: moved',
      })
      .expect(200);
    expect((slowRequest.body as RunDetail).version).toBe(before.version + 1);
    const corrected = await waitForAnalysis(runId!);
    expect(corrected.spans).toHaveLength(2);
    expect(valueOf(corrected, 'twoWayTopSpeed')).toBeLessThan(valueOf(before, 'twoWayTopSpeed') - 2);
    expect(corrected.corrections).toMatchObject([{ what: 'Pass 1: moved', undoneAt: null }]);
    expect(corrected.figureHistory.some(({ key }) => key === 'twoWayTopSpeed')).toBe(true);

    await server.api.delete(`/api/runs/${runId}/spans?version=${corrected.version}`).expect(200);
    const back = await waitForAnalysis(runId!);
    expect(valueOf(back, 'twoWayTopSpeed')).toBe(valueOf(before, 'twoWayTopSpeed'));
    expect(back.spans).toEqual(before.spans);
    expect(back.corrections[0]!.undoneAt).not.toBeNull();
    await server.api.delete(`/api/runs/${runId}/spans?version=${back.version}`).expect(409);
  });

  it('are refused outside the log, of a kind that cannot be set, and on an old version', async () => {
    const run = await get((await runs('to-correct.csv'))[0]!.id);
    const put = (spans: object[], version = run.version) =>
      server.api.put(`/api/runs/${run.id}/spans`).send({ version, spans, what: 'Moved' });
    const pass = { kind: 'pass', direction: 1, fromS: 10, toS: 15 };
    expect((await put([{ ...pass, fromS: 400, toS: 500 }]).expect(400)).body.error.message).toContain(
      'does not lie in this run',
    );
    await put([{ ...pass, fromS: 15, toS: 10 }]).expect(400);
    expect((await put([{ kind: 'stop', fromS: 10, toS: 15 }]).expect(400)).body.error.message).toContain(
      'cannot be set',
    );
    await put([pass], run.version - 1).expect(409);
    expect((await get(run.id)).corrections).toHaveLength(1);
  });
});

async function runs(text: string): Promise<RunSummary[]> {
  return (
    (await server.api.get('/api/runs').query({ text, pageSize: 100 }).expect(200)).body as { items: RunSummary[] }
  ).items;
}

describe('figures that are asked for again while they are worked out', () => {
  it('are those of the last asking: an answer to an earlier one is not stored', async () => {
    const [{ id }] = (await runs('to-correct.csv')) as [RunSummary];
    const figures = server.app.get(RunFigureRepository);
    const database = server.app.get<Knex>(KNEX);
    const before = await get(id);
    const slow = await server.app.get(RunRepository).findForAnalysis(id);
    // Another correction is asked for, and answered, while the first answer is still on its way.
    const span = { kind: 'pass', direction: 1, fromS: 20, toS: 30 };
    const other = { kind: 'pass', direction: -1, fromS: 80, toS: 90 };
    await server.api
      .put(`/api/runs/${id}/spans`)
      .send({ version: before.version, spans: [span, other], what: 'Both set' })
      .expect(200);
    const recalculated = await waitForAnalysis(id);
    const late = { method: before.method, figures: [], warnings: [], spans: [], charts: [] };
    const end = await database.transaction((transaction) =>
      figures.replace(id, slow!.requestNumber, late, transaction),
    );
    expect(end).toBe('superseded');
    expect((await get(id)).allFigures).toEqual(recalculated.allFigures);
    await server.api.delete(`/api/runs/${id}/spans?version=${recalculated.version}`).expect(200);
    await waitForAnalysis(id);
  });

  it('that cannot be worked out keep the old ones, say why, and leave nothing waiting', async () => {
    const [{ id }] = (await runs('to-correct.csv')) as [RunSummary];
    const database = server.app.get<Knex>(KNEX);
    const before = await get(id);
    const { log_id: logId } = (await database<{ id: string; log_id: string }>('run')
      .select('log_id')
      .where({ id })
      .first())!;
    const { bytes } = (await database<{ id: string; bytes: Buffer }>('log')
      .select('bytes')
      .where({ id: logId })
      .first())!;
    await database('log')
      .where({ id: logId })
      .update({ bytes: Buffer.from('no log at all') });
    await database.transaction((trx) => server.app.get(AnalysisRequests).analyse({ id }, trx));
    const failed = await waitForAnalysis(id);
    expect(failed.allFigures).toEqual(before.allFigures);
    expect(failed.warnings.find(({ code }) => code === 'not-worked-out')!.message).toContain('the earlier figures');
    await database('log').where({ id: logId }).update({ bytes });
    await database.transaction((trx) => server.app.get(AnalysisRequests).analyse({ id }, trx));
    expect((await waitForAnalysis(id)).warnings.some(({ code }) => code === 'not-worked-out')).toBe(false);
  });

  it('are taken up again by the next process', async () => {
    const [{ id }] = (await runs('to-correct.csv')) as [RunSummary];
    // Asked for, but the process ended before the job was sent.
    await server.app.get<Knex>(KNEX)('run').where({ id }).increment('analyses_requested', 1);
    expect((await get(id)).isRecalculating).toBe(true);
    expect(await server.app.get(RunFigureRepository).pending()).toEqual([id]);
    await server.app.get(JobWorkers).resume();
    await waitForAnalysis(id);
  });

  it('of another kind of test are found anew, without the spans of the one before', async () => {
    const [{ id }] = (await runs('to-correct.csv')) as [RunSummary];
    const run = await get(id);
    await server.api
      .put(`/api/runs/${id}/spans`)
      .send({ version: run.version, spans: [{ kind: 'pass', direction: 1, fromS: 20, toS: 30 }], what: 'One set' })
      .expect(200);
    const set = await waitForAnalysis(id);
    const change = { version: set.version, assignment: assignment({ testKind: 'coast-down' }) };
    await server.api.put(`/api/runs/${id}`).send(change).expect(200);
    const changed = await waitForAnalysis(id);
    expect(changed.corrections.every(({ undoneAt }) => undoneAt !== null)).toBe(true);
    expect(changed.spans.some(({ kind }) => kind === 'pass')).toBe(false);
  });
});

describe('the log of an outing', () => {
  const outing = (): string => {
    const rows = ['time (s),speed (km/h),distance (m),voltage (V),current (A)'];
    let way = 0;
    for (let t = 0; t <= 700; t++) {
      const isMoving = (t > 30 && t < 300) || (t > 360 && t < 670);
      way += isMoving ? 5 : 0;
      rows.push(
        `${t},${isMoving ? (18 + 0.2 * Math.sin(t)).toFixed(2) : 0},${way},${(50 - t / 900).toFixed(2)},${isMoving ? (t < 330 ? 4 : 6) : 0.05}`,
      );
    }
    return rows.join('\n');
  };

  it('is proposed as runs, and each confirmed one becomes a run of its span', async () => {
    const file = await stage(outing(), 'outing.csv');
    const split = (
      await server.api
        .post(`/api/imports/${file.id}/split`)
        .send({ mapping: file.inspection!.mapping, courseId: bench.course.id })
        .expect(200)
    ).body as Split;
    expect(split.runs).toHaveLength(2);
    expect(split.strip.channels.length).toBeGreaterThan(0);
    expect(await runs('outing.csv')).toEqual([]);
    await server.api
      .post('/api/imports/start')
      .send({
        items: [
          {
            importId: file.id,
            mapping: file.inspection!.mapping,
            assignment: assignment(),
            parts: split.runs.map(({ fromS, toS }) => ({
              logSpan: { fromS, toS },
              testKind: 'range',
              courseId: bench.course.id,
            })),
          },
        ],
      })
      .expect(202);
    const done = await until(async () => {
      const found = ((await server.api.get('/api/imports')).body as ImportFile[]).find(({ id }) => id === file.id);
      return found?.status === 'done' ? found : undefined;
    }, 'imported');
    expect(done.runCount).toBe(2);
    const made = await runs('outing.csv');
    expect(made.map(({ durationS }) => Math.round(durationS)).sort()).toEqual(
      split.runs.map(({ fromS, toS }) => Math.round(toS - fromS)).sort(),
    );
    const details = await Promise.all(made.map(({ id }) => get(id)));
    const amps = details.map((run) => (3600 * valueOf(run, 'chargeUsed')) / valueOf(run, 'movingTime')).sort();
    expect(amps[0]!).toBeCloseTo(4, 0);
    expect(amps[1]!).toBeCloseTo(6, 0);
    for (const { spans, logSpan } of details) expect(spans[0]!.fromS).toBeGreaterThanOrEqual(logSpan!.fromS - 1);
    // The same file again is known by its first run; a file that waits no more cannot be split.
    expect((await stage(outing(), 'again.csv')).status).toBe('known');
    await server.api.post(`/api/imports/${file.id}/split`).send({ mapping: null }).expect(409);
  });
});

describe('figures of a setup', () => {
  it('are gathered by test and course, those of left-out runs not', async () => {
    const first = await bench.addRun(makeRideCsv({ salt: 71 }), setup, 'gathered-1.csv');
    await bench.addRun(makeRideCsv({ salt: 72, current: 6.2 }), setup, 'gathered-2.csv');
    const figures = async (): Promise<RepeatedFigure[]> =>
      (await server.api.get(`/api/setups/${setup.id}/figures`).expect(200)).body as RepeatedFigure[];
    const net = async () =>
      (await figures()).find(({ key, testKind }) => key === 'netConsumption' && testKind === 'range')!;
    const before = (await net()).runs.length;
    expect(before).toBeGreaterThanOrEqual(2);
    expect((await figures()).some(({ key, testKind }) => key === 'twoWayTopSpeed' && testKind === 'top-speed')).toBe(
      true,
    );
    await server.api.post(`/api/runs/${first}/exclusion`).send({ reason: 'Only a test.', version: 1 }).expect(201);
    expect((await net()).runs).toHaveLength(before - 1);
  });
});

describe('working figures out again', () => {
  const overview = async () =>
    (await server.api.get('/api/reanalysis').expect(200)).body as { outdated: number; latest: Reanalysis | null };
  const ended = (id: string): Promise<Reanalysis> =>
    until(async () => {
      const { latest } = await overview();
      return latest?.id === id && latest.state !== 'working' ? latest : undefined;
    }, 'worked out');

  it('has nothing to do at first; runs of an earlier method are counted, worked out, and the old figures kept', async () => {
    expect((await overview()).outdated).toBe(0);
    const [run] = await runs('gathered-2.csv');
    const database = server.app.get<Knex>(KNEX);
    await database('run').where({ id: run!.id }).update({ method_version: '0.1' });
    await database('figure').where({ run_id: run!.id, key: 'energyOut' }).update({ value: 1, method_version: '0.1' });
    expect((await overview()).outdated).toBe(1);
    const begun = (await server.api.post('/api/reanalysis').send({ scope: 'outdated' }).expect(202)).body as Reanalysis;
    expect(begun).toMatchObject({ state: 'working', total: 1 });
    expect(await ended(begun.id)).toMatchObject({ state: 'done', total: 1, done: 1, failed: 0, changed: 1 });
    expect((await overview()).outdated).toBe(0);
    const again = await get(run!.id);
    expect(valueOf(again, 'energyOut')).toBeGreaterThan(10);
    expect(again.figureHistory).toContainEqual(expect.objectContaining({ key: 'energyOut', value: 1 }));
  });

  it('asked for in two windows at once is one work', async () => {
    const begin = () => server.api.post('/api/reanalysis').send({ scope: 'all' }).expect(202);
    const [one, two] = await Promise.all([begin(), begin()]);
    expect((one.body as Reanalysis).id).toBe((two.body as Reanalysis).id);
    await ended((one.body as Reanalysis).id);
  });

  it('goes on where a killed process left it, each run once', async () => {
    const repository = server.app.get(ReanalysisRepository);
    const id = await server.app.get<Knex>(KNEX).transaction((trx) => repository.begin('all', trx));
    const { total } = (await repository.find(id))!;
    expect(total).toBeGreaterThan(3);
    // One run is done; the process dies in the middle of the next: its transaction is taken back.
    const seen: string[] = [];
    await repository.workOnNext(id, async (runId) => {
      seen.push(runId);
      return Promise.resolve('same');
    });
    const killed = repository.workOnNext(id, async (runId, transaction) => {
      seen.push(runId);
      await transaction.raw('select pg_terminate_backend(pg_backend_pid())');
      return 'same';
    });
    await expect(killed).rejects.toThrow();
    expect(new Set(seen).size).toBe(2);
    expect(await repository.find(id)).toMatchObject({ state: 'working', done: 1 });
    expect(await repository.unfinished()).toEqual([id]);
    // As a process does when it starts.
    await server.app.get(JobWorkers).resume();
    expect(await ended(id)).toMatchObject({ state: 'done', done: total, failed: 0, changed: 0 });
  });

  it('is stopped where it is', async () => {
    const repository = server.app.get(ReanalysisRepository);
    const id = await server.app.get<Knex>(KNEX).transaction((trx) => repository.begin('all', trx));
    const stopped = (await server.api.delete(`/api/reanalysis/${id}`).expect(200)).body as Reanalysis;
    expect(stopped.state).toBe('cancelled');
    expect(await repository.workOnNext(id, () => Promise.reject(new Error('not to be worked on')))).toBe('none');
    await server.api.delete('/api/reanalysis/01900000-0000-7000-8000-00000000dead').expect(404);
  });
});
