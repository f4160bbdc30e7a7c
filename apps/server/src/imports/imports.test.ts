import { gzipSync } from 'node:zlib';
import { METHODS } from '@ebrix/core/analysis';
import type { ImportFile, RunDetail } from '@ebrix/contract';
import { startTestBench, type TestApp, importOne, type Bench } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

let server: TestApp;
let bench: Bench;
beforeAll(async () => ({ server, bench } = await startTestBench()));
afterAll(() => server.close());

const stage = async (bytes: Buffer | string, name = 'ride.csv'): Promise<ImportFile> =>
  (
    (await server.api.post('/api/imports').attach('files', Buffer.from(bytes), name).expect(201)).body as ImportFile[]
  )[0]!;
const assignmentFor = async (name: string) => {
  const setup = await bench.addSetup(name);
  return { setupRevisionId: setup.revisions[0]!.id, courseId: bench.course.id, outingId: bench.outing.id };
};

describe('bringing in rides', () => {
  it('makes a run with figures of a file, and recognises the same file the second time', async () => {
    const csv = makeRideCsv({ salt: 1 });
    const file = await stage(csv, 'morning.csv');
    expect(file).toMatchObject({
      status: 'staged',
      fileName: 'morning.csv',
      inspection: { format: 'csv', questions: [] },
    });
    const done = await importOne(server, file.id, await assignmentFor('First'), file.inspection!.mapping);
    expect(done.status).toBe('done');
    const run = (await server.api.get(`/api/runs/${done.runId}`).expect(200)).body as RunDetail;
    const net = run.allFigures.find(({ key }) => key === 'netConsumption')!;
    // About 6 A at 49.6 V and 20 km/h.
    expect(net.value).toBeGreaterThan(14.5);
    expect(net.value).toBeLessThan(15.3);
    expect(net.interval95[0]).toBeLessThan(net.value);
    expect(run.method).toEqual(METHODS.range);
    expect(await stage(csv, 'again.csv')).toMatchObject({ status: 'known', runId: done.runId });
  });

  it('gives the file back exactly as it came', async () => {
    const csv = makeRideCsv({ salt: 2 });
    const runId = await bench.addRun(csv, await bench.addSetup('Kept'));
    const answer = await server.api
      .get(`/api/runs/${runId}/file`)
      .buffer(true)
      .parse((response, done) => {
        const chunks: Buffer[] = [];
        response.on('data', (chunk: Buffer) => chunks.push(chunk));
        response.on('end', () => done(null, Buffer.concat(chunks)));
      });
    expect((answer.body as Buffer).toString()).toBe(csv);
    expect(answer.headers['content-disposition']).toContain('attachment');
  });

  it('reads a long one that is packed to the figures of the same one unpacked', async () => {
    const long = makeRideCsv({ salt: 20 })
      .split('\n')
      .map((line, k) => (line === '' ? line : `${line},${k === 0 ? 'note' : 'rough '.repeat(200)}`))
      .join('\n');
    expect(long.length).toBeGreaterThan(300_000);
    const figures: unknown[] = [];
    for (const [name, bytes] of [
      ['plain.csv', Buffer.from(long)],
      ['packed.csv.gz', gzipSync(Buffer.from(long))],
    ] as const) {
      const file = await stage(bytes, name);
      expect(file).toMatchObject({ status: 'staged', inspection: { format: 'csv', questions: [] } });
      const done = await importOne(server, file.id, await assignmentFor(name), file.inspection!.mapping);
      const { allFigures } = (await server.api.get(`/api/runs/${done.runId}`).expect(200)).body as RunDetail;
      figures.push(allFigures.map(({ key, value, interval95 }) => ({ key, value, interval95 })));
    }
    expect(figures[0]).not.toEqual([]);
    expect(figures[1]).toEqual(figures[0]);
  });

  it('asks for a unit the file does not tell, reads it once told, and remembers the answer', async () => {
    const csv = makeRideCsv({ salt: 3 }).replace('speed (km/h)', 'speed');
    const file = await stage(csv);
    expect(file.inspection!.questions).toEqual([expect.objectContaining({ kind: 'unit', blocking: true })]);
    const assignment = await assignmentFor('Asked');
    const unanswered = await importOne(server, file.id, assignment, file.inspection!.mapping);
    expect(unanswered).toMatchObject({ status: 'failed', problem: { code: 'mapping-needed' } });
    const { mapping } = file.inspection!;
    const answered = {
      ...mapping,
      columns: mapping.columns.map((c) => (c.channel === 'speed' ? { ...c, unit: 'km/h' as const } : c)),
    };
    expect(await importOne(server, file.id, assignment, answered, 'My logger')).toMatchObject({ status: 'done' });
    const next = await stage(csv.replace('0,20', '0,21'));
    expect(next.inspection).toMatchObject({ questions: [], profile: { name: 'My logger' } });
  });

  it('refuses what is no log in a sentence, and keeps the good files beside it', async () => {
    const answer = await server.api
      .post('/api/imports')
      .attach('files', Buffer.from([0x89, 0x50, 0x4e, 0x47, 1, 2, 3]), 'holiday.csv')
      .attach('files', Buffer.from(makeRideCsv({ salt: 4 })), '../../etc/\u202epasswd.csv')
      .expect(201);
    const [chart, good] = answer.body as ImportFile[];
    expect(chart).toMatchObject({
      status: 'refused',
      problem: { code: 'not-a-log', message: expect.stringContaining('picture') },
    });
    expect(good).toMatchObject({ status: 'staged', fileName: 'passwd.csv' });
  });

  it('leaves no half of an import behind: an unknown course is refused and nothing is stored', async () => {
    const file = await stage(makeRideCsv({ salt: 5 }));
    const before = (await server.api.get('/api/runs')).body.total;
    const assignment = { ...(await assignmentFor('Nowhere')), courseId: '01900000-0000-7000-8000-000000000000' };
    const failed = await importOne(server, file.id, assignment, file.inspection!.mapping);
    expect(failed.status).toBe('failed');
    expect((await server.api.get('/api/runs')).body.total).toBe(before);
    // It can be tried again with the right course.
    expect(
      await importOne(server, file.id, { ...assignment, courseId: bench.course.id }, file.inspection!.mapping),
    ).toMatchObject({ status: 'done' });
  });

  it('takes a file off the list and will not start it afterwards', async () => {
    const file = await stage(makeRideCsv({ salt: 6 }));
    await server.api.delete(`/api/imports/${file.id}`).expect(204);
    const answer = await server.api
      .post('/api/imports/start')
      .send({ items: [{ importId: file.id, mapping: null, assignment: await assignmentFor('Gone') }] })
      .expect(409);
    expect(answer.body.error.code).toBe('wrong-state');
  });

  it('works the figures out again when the weather of the outing is corrected, and keeps the old values', async () => {
    const runId = await bench.addRun(makeRideCsv({ salt: 7 }), await bench.addSetup('Weather'));
    const read = async (): Promise<RunDetail> => (await server.api.get(`/api/runs/${runId}`)).body as RunDetail;
    const before = (await read()).allFigures.find(({ key }) => key === 'rangeToCutoff')!;
    const { version } = ((await server.api.get('/api/outings')).body as { id: string; version: number }[]).find(
      ({ id }) => id === bench.outing.id,
    )!;
    await server.api
      .put(`/api/outings/${bench.outing.id}`)
      .send({ version, title: 'Morning 1', date: '2026-04-07', airTemperatureC: -5, windMps: 2 })
      .expect(200);
    const until = Date.now() + 90_000;
    let run = await read();
    while (run.figureHistory.length === 0 && Date.now() < until) {
      await new Promise((resolve) => setTimeout(resolve, 150));
      run = await read();
    }
    expect(run.allFigures.find(({ key }) => key === 'rangeToCutoff')!.value).toBeLessThan(before.value);
    expect(run.figureHistory).toContainEqual(expect.objectContaining({ key: 'rangeToCutoff', value: before.value }));
  });
});
