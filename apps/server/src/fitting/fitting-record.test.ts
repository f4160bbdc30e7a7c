import type { SetupDetail, StoredFittingRecord } from '@ebrix/contract';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';

let server: TestApp;
let bench: Bench;
let setup: SetupDetail;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  setup = await bench.addSetup('Corvane R2, 52 V');
});
afterAll(() => server.close());

const path = () => `/api/setups/${setup.id}/fitting-record`;
const put = (version: number, record: object) => server.api.put(path()).send({ version, record });
const get = async (): Promise<StoredFittingRecord> =>
  (await server.api.get(path()).expect(200)).body as StoredFittingRecord;

it('begins empty, keeps what was written, and goes with its setup', async () => {
  expect(await get()).toMatchObject({
    version: 0,
    updatedAt: null,
    record: { box: [], guessedHours: null, cooling: null },
  });
  const record = {
    seller: '<i>Bench & Barrow</i>',
    orderedOn: '2026-02-24',
    arrivedOn: '2026-03-03',
    box: [{ what: 'Torque arm', state: 'missing' }],
    connectors: [{ from: 'Motor cable', to: 'Controller', state: 'shortened', note: '20 cm' }],
    cooling: { fluid: 'Cooling fluid', doseMl: 6, coverMm: 4, drillStopMm: 5 },
  };
  const stored = (await put(0, record).expect(200)).body as StoredFittingRecord;
  expect(stored).toMatchObject({
    version: 1,
    record: { ...record, box: [{ what: 'Torque arm', state: 'missing', note: '' }] },
  });
  expect(await get()).toEqual(stored);
  const other = await bench.addSetup('Short-lived');
  await server.api.put(`/api/setups/${other.id}/fitting-record`).send({ version: 0, record }).expect(200);
  await server.api.delete(`/api/setups/${other.id}?version=1`).expect(204);
  await server.api.get(`/api/setups/${other.id}/fitting-record`).expect(404);
});

it('tells a window that another was first, with what stands there', async () => {
  const { version } = await get();
  await put(version, { seller: 'First' }).expect(200);
  const refused = await put(version, { seller: 'Second' }).expect(409);
  expect(refused.body).toMatchObject({
    error: { code: 'changed-meanwhile', details: { current: { version: version + 1, record: { seller: 'First' } } } },
  });
  await put(0, { seller: 'Third' }).expect(409);
  expect((await get()).record.seller).toBe('First');
});

it.each([
  ['a line of the box without a name', { box: [{ what: ' ', state: 'received' }] }],
  ['a state nobody knows', { box: [{ what: 'Motor', state: 'lost' }] }],
  ['a day that is none', { orderedOn: '2026-02-30' }],
  ['a difficulty of six', { guessedDifficulty: 6 }],
  ['a field of its own', { colour: 'blue' }],
])('refuses %s and keeps what is stored', async (_what, record) => {
  const before = await get();
  await put(before.version, record).expect(400);
  expect(await get()).toEqual(before);
});

it('has no record of a setup that is not there', async () => {
  await server.api.get('/api/setups/019a0000-0000-7000-8000-000000000000/fitting-record').expect(404);
  await server.api
    .put('/api/setups/019a0000-0000-7000-8000-000000000000/fitting-record')
    .send({ version: 0, record: {} })
    .expect(404);
});
