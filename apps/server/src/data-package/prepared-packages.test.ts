import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parquetReadObjects } from 'hyparquet';
import type { PackageOrder, PreparedPackage } from '@ebrix/contract';
import { CONFIG, type Config } from '../common/config.js';
import { Clock } from '../common/clock.js';
import { makeBench } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';
import { untilTrue } from '../testing/processes.js';
import { entriesOf } from '../testing/zip-entries.js';
import { startTestApp, type TestApp } from '../testing/test-app.js';
import { ExportService } from './export.service.js';
import { PreparedPackagesService } from './prepared-packages.service.js';

const EVERYTHING: PackageOrder = { trial: null, runs: null, channels: 'none' };
const NOWHERE = '01890a5d-ac96-774b-bcce-b302099a8057';
let server: TestApp;
let folder: string;

beforeAll(async () => {
  server = await startTestApp();
  const bench = await makeBench(server);
  const setup = await bench.addSetup('Corvane');
  await bench.addRun(makeRideCsv({ current: 5 }), setup);
});
afterAll(() => server.close());
beforeEach(async () => (folder = await mkdtemp(join(tmpdir(), 'prepared-test-'))));
afterEach(() => rm(folder, { recursive: true, force: true }));

const order = async (body: object): Promise<PreparedPackage> =>
  (await server.api.post('/api/packages').send(body).expect(201)).body as PreparedPackage;
const listed = async (): Promise<PreparedPackage[]> =>
  (await server.api.get('/api/packages').expect(200)).body as PreparedPackage[];
/** Looks again until it holds. */
const until = <T>(look: () => Promise<T | undefined> | T | undefined): Promise<T> =>
  untilTrue(() => Promise.resolve(look()), 'the package');
const ready = (id: string): Promise<PreparedPackage> =>
  until(async () => (await listed()).find((one) => one.id === id && one.state === 'ready'));
const fileOf = async (id: string, headers: Record<string, string> = {}): Promise<{ status: number; body: Buffer }> => {
  const { status, body } = await server.api.get(`/api/packages/${id}/file`).set(headers).responseType('blob');
  return { status, body: body as Buffer };
};

describe('a package made on the server', () => {
  it('is followed to its end, and a download that broke off goes on', async () => {
    const { id, state } = await order({});
    expect(['waiting', 'making']).toContain(state);
    const made = await ready(id);
    expect(made.filesDone).toBe(made.filesOf);
    expect(made.filesOf).toBeGreaterThan(20);
    const whole = await fileOf(id);
    expect([whole.status, whole.body.length]).toEqual([200, made.bytes]);
    const { headers } = await server.api.head(`/api/packages/${id}/file`);
    const half = Math.floor(made.bytes / 2);
    const first = await fileOf(id, { Range: `bytes=0-${half - 1}` });
    const rest = await fileOf(id, { Range: `bytes=${half}-`, 'If-Range': headers['etag'] as string });
    expect([first.status, rest.status]).toEqual([206, 206]);
    expect(Buffer.concat([first.body, rest.body]).equals(whole.body)).toBe(true);
    // Of another file it is not gone on with.
    expect((await fileOf(id, { Range: `bytes=${half}-`, 'If-Range': '"another"' })).status).toBe(200);
    await server.api.delete(`/api/packages/${id}`).expect(204);
    expect((await fileOf(id)).status).toBe(404);
    await server.api.delete(`/api/packages/${id}`).expect(404);
  });

  it('has its channels as Parquet with the numbers of the CSV, empty cells as nulls', async () => {
    const both = await Promise.all(
      (['csv', 'parquet'] as const).map(async (channels) => {
        const { id } = await order({ channels });
        await ready(id);
        return entriesOf((await fileOf(id)).body);
      }),
    );
    const [csv, parquet] = both.map((entries) => [...entries].find(([name]) => name.startsWith('channels/'))![1]);
    const [head, ...lines] = csv!
      .toString()
      .trim()
      .split('\r\n')
      .map((line) => line.split(','));
    const file = Uint8Array.from(parquet!).buffer;
    const rows = await parquetReadObjects({ file });
    expect(rows).toHaveLength(lines.length);
    expect(Object.keys(rows[0]!)).toEqual(head);
    for (const k of [0, 1, Math.floor(lines.length / 2), lines.length - 1])
      for (const [c, name] of head!.entries()) {
        const cell = lines[k]![c]!;
        const value = rows[k]![name] as number | null;
        if (cell === '') expect(value).toBeNull();
        else expect(value).toBeCloseTo(Number(cell), 4);
      }
  });

  it('refuses a trial that is not there, and orders that are none', async () => {
    await server.api.post('/api/packages').send({ trial: NOWHERE }).expect(404);
    await server.api.post('/api/packages').send({ channels: 'wax' }).expect(400);
    await server.api.post('/api/packages').send({ runs: [] }).expect(400);
  });
});

describe('packages through the end of a server', () => {
  /** One that writes nothing before it is let go. */
  const slow = (): { exports: ExportService; letGo: () => void } => {
    let letGo = (): void => undefined;
    const gate = new Promise<void>((resolve) => (letGo = resolve));
    const real = server.app.get(ExportService);
    const exports = Object.assign(Object.create(real) as ExportService, {
      prepare: async (options: Parameters<ExportService['prepare']>[0]) => {
        const write = await real.prepare(options);
        const written: typeof write = async (output, watching) => {
          output.write('begun');
          await Promise.race([gate, aborted(watching?.signal)]);
          await write(output, watching);
        };
        return written;
      },
    });
    return { exports, letGo };
  };
  const aborted = (signal: AbortSignal | undefined): Promise<void> =>
    signal?.aborted ? Promise.resolve() : new Promise((resolve) => signal?.addEventListener('abort', () => resolve()));
  const start = async (exports = server.app.get(ExportService), clock = new Clock()) => {
    const config: Config = { ...server.app.get<Config>(CONFIG), EBRIX_PACKAGES: folder };
    const service = new PreparedPackagesService(config, exports, clock);
    await service.onApplicationBootstrap();
    return service;
  };
  const stateOf = (service: PreparedPackagesService, state: string): Promise<PreparedPackage> =>
    until(() => service.list().find((one) => one.state === state));

  it('what was being made is begun again, what was ready stays, and leavings of a kill are cleared', async () => {
    const before = await start(slow().exports);
    const { id } = await before.order(EVERYTHING);
    await stateOf(before, 'making');
    await before.onApplicationShutdown();
    expect((await readdir(folder)).filter((name) => name.endsWith('.zip'))).toEqual([]);
    // A kill leaves what was half-written, too.
    await writeFile(join(folder, `${id}.part`), 'half');
    await writeFile(join(folder, `${NOWHERE}.json`), '{"id":');
    const after = await start();
    const made = await stateOf(after, 'ready');
    expect(made.id).toBe(id);
    const bytes = await readFile(after.fileOf(id));
    expect((await entriesOf(bytes)).has('datapackage.json')).toBe(true);
    await after.onApplicationShutdown();
    const third = await start();
    expect(third.list()).toMatchObject([{ id, state: 'ready', bytes: made.bytes }]);
    expect((await readdir(folder)).sort()).toEqual([`${id}.json`, `${id}.zip`]);
    await third.onApplicationShutdown();
    // A day later it is gone.
    const later = Object.assign(new Clock(), { now: () => new Date(Date.now() + 2 * 86_400_000) });
    const fourth = await start(undefined, later);
    expect([fourth.list(), await readdir(folder)]).toEqual([[], []]);
    await fourth.onApplicationShutdown();
  });

  it('one that is stopped leaves nothing, the next one has its turn, and more than a few at once are refused', async () => {
    const { exports, letGo } = slow();
    const service = await start(exports);
    const orders = [];
    for (let k = 0; k < 6; k++) orders.push(await service.order(EVERYTHING));
    await expect(service.order(EVERYTHING)).rejects.toMatchObject({ code: 'busy' });
    await stateOf(service, 'making');
    for (const { id } of orders.slice(0, 5)) await service.drop(id);
    letGo();
    await stateOf(service, 'ready');
    expect((await readdir(folder)).sort()).toEqual([`${orders[5]!.id}.json`, `${orders[5]!.id}.zip`]);
    await service.onApplicationShutdown();
  });

  it('one that fails says so, and gives way to the next', async () => {
    const failing = Object.assign(Object.create(server.app.get(ExportService)) as ExportService, {
      prepare: () =>
        Promise.resolve(() => Promise.reject(Object.assign(new Error('no space left'), { code: 'ENOSPC' }))),
    });
    const service = await start(failing);
    await service.order(EVERYTHING);
    expect((await stateOf(service, 'failed')).problem).toMatch(/disk of the server is full/);
    // What is told to the window is written down a moment later.
    await service.onApplicationShutdown();
    expect((await readdir(folder)).filter((name) => !name.endsWith('.json'))).toEqual([]);
  });
});
