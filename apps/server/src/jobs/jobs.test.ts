import type { Knex } from 'knex';
import { runAssignmentSchema, type ImportFile, type RunDetail, type SetupDetail } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { JobPool } from '../compute/compute-pool.js';
import { KNEX } from '../database/database.module.js';
import { ImportProcessor } from '../imports/import.processor.js';
import { ImportLeaseRepository } from '../imports/import-lease.repository.js';
import { RunAnalyser } from '../runs/run-analyser.js';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';
import { AnalysisRequests } from './analysis-requests.js';

let server: TestApp;
let bench: Bench;
let setup: SetupDetail;
let database: Knex;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  setup = await bench.addSetup('Corvane R2');
  database = server.app.get<Knex>(KNEX);
});
afterAll(() => server.close());
afterEach(() => jest.restoreAllMocks());

const HOLDER = '01900000-0000-7000-8000-0000000000aa';
const OTHER = '01900000-0000-7000-8000-0000000000bb';

/** A file that waits in the queue, whose job was taken away: the test takes it itself. */
async function queuedFile(salt: number): Promise<string> {
  const [file] = (
    await server.api
      .post('/api/imports')
      .attach('files', Buffer.from(makeRideCsv({ salt })), `ride-${salt}.csv`)
      .expect(201)
  ).body as [ImportFile];
  const assignment = runAssignmentSchema.parse(bench.assignment(setup));
  await database('import_file')
    .where({ id: file.id })
    .update({
      status: 'queued',
      step: 'waiting',
      assignment: JSON.stringify(assignment),
      mapping: JSON.stringify(file.inspection!.mapping),
    });
  return file.id;
}
const statusOf = async (id: string): Promise<string> =>
  (await database<ImportFile>('import_file').select('status').where({ id }).first())!.status;

describe('a request', () => {
  it('is not there when its transaction is taken back', async () => {
    const runId = await bench.addRun(makeRideCsv({ salt: 31 }), setup);
    const jobs = () => database('pgboss.job').where({ name: 'analyse-run' }).count<[{ count: string }]>('* as count');
    const [before] = await jobs();
    const requests = server.app.get(AnalysisRequests);
    const broken = database.transaction(async (transaction) => {
      await requests.analyse({ id: runId }, transaction);
      throw new Error('the process ends here');
    });
    await expect(broken).rejects.toThrow('the process ends here');
    expect(await jobs()).toEqual([before]);
    expect(((await server.api.get(`/api/runs/${runId}`)).body as RunDetail).isRecalculating).toBe(false);
  });
});

describe('a claim', () => {
  it('is a lease: while it is renewed nobody else takes the file, and once it lapsed the next one does', async () => {
    const id = await queuedFile(32);
    const leases = server.app.get(ImportLeaseRepository);
    expect(await leases.claim(id, HOLDER)).toMatchObject({ id });
    expect(await leases.claim(id, OTHER)).toBe('leased');
    expect(await server.app.get(ImportProcessor).readImport(id)).toBe('later');
    // The first one died: it renews no more.
    await database('import_file')
      .where({ id })
      .update({ leased_until: database.raw("now() - interval '1 second'") });
    expect(await leases.claim(id, OTHER)).toMatchObject({ id });
    // What it still does counts no more.
    await leases.fail(id, HOLDER, { code: 'internal', message: 'too late', line: null });
    expect(await statusOf(id)).toBe('working');
    expect(await database.transaction((trx) => leases.lockWorking(id, HOLDER, trx))).toBe(false);
  });
});

describe('a job for which no thread is free', () => {
  const busy = () => Promise.reject(new DomainError('busy', 'Ebrix is busy.'));

  it('comes again, and the file is not called broken or gone', async () => {
    const id = await queuedFile(33);
    const run = jest.spyOn(server.app.get(JobPool), 'run').mockImplementation(busy);
    expect(await server.app.get(ImportProcessor).readImport(id)).toBe('later');
    expect(await statusOf(id)).toBe('queued');
    run.mockRestore();
    expect(await server.app.get(ImportProcessor).readImport(id)).toBe('done');
    expect(await statusOf(id)).toBe('done');
  });

  it('leaves the request of a run open', async () => {
    const runId = await bench.addRun(makeRideCsv({ salt: 34 }), setup);
    jest.spyOn(server.app.get(JobPool), 'run').mockImplementation(busy);
    await database('run').where({ id: runId }).increment('analyses_requested', 1);
    expect(await server.app.get(RunAnalyser).takeJob(runId)).toBe('later');
    const run = (await server.api.get(`/api/runs/${runId}`)).body as RunDetail;
    expect(run.isRecalculating).toBe(true);
    expect(run.warnings.some(({ code }) => code === 'not-worked-out')).toBe(false);
  });
});

describe('starting an import', () => {
  it('that is refused waives nothing: the bike stays where it was', async () => {
    const open = await bench.addSetup('Never checked', { isCleared: false });
    const waiting = await queuedFile(35);
    const body = {
      items: [
        {
          importId: waiting,
          mapping: null,
          assignment: bench.assignment(open),
          clearanceWaiver: { by: 'Bram', reason: 'Ridden before it was checked' },
        },
      ],
    };
    await server.api.post('/api/imports/start').send(body).expect(409);
    const after = (await server.api.get(`/api/setups/${open.id}`).expect(200)).body as SetupDetail;
    expect(after.clearance.openClearance).toBe(open.clearance.openClearance);
    expect(after.clearance.openClearance).toBeGreaterThan(0);
  });
});
