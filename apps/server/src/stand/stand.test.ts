import type { Finding, SetupDetail, StandRecord } from '@ebrix/contract';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';

let server: TestApp;
let bench: Bench;
let setup: SetupDetail;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  setup = await bench.addSetup('On the stand');
});
afterAll(() => server.close());
const put = (body: object) => server.api.put(`/api/revisions/${setup.revisions[0]!.id}/stand`).send(body);
const record = { version: 0, day: '2026-03-21', by: 'Ottoline Vask', directionRight: true };

describe('a stand test', () => {
  it('gives figures with their uncertainty for what was read, and none for the rest', async () => {
    const stored = (
      await put({ ...record, readings: { rollOutTurns: 10, rollOutM: 20.93, frontKg: 10.6, rearKg: 20.2 } }).expect(200)
    ).body as StandRecord;
    expect(stored.figures.map(({ key }) => key)).toEqual(['wheelCircumference', 'mass', 'frontShare']);
    expect(stored.figures[0]!.value).toBeCloseTo(2.093, 9);
    expect(stored.figures.every(({ standardUncertainty }) => standardUncertainty > 0)).toBe(true);
    expect(stored).toMatchObject({ version: 1, spinsFreely: null, revisionNumber: 1 });
  });

  it('compares the roll-out with the circumference that was set in that revision', async () => {
    const revised = (
      await server.api
        .post(`/api/setups/${setup.id}/revisions`)
        .send({
          bikeId: bench.bike.id,
          kitId: bench.kit.id,
          packIds: [bench.pack.id],
          settings: { wheelCircumferenceM: 2.2 },
          change: 'Wheel size set',
        })
        .expect(201)
    ).body as SetupDetail;
    const stored = (
      await server.api
        .put(`/api/revisions/${revised.revisions[0]!.id}/stand`)
        .send({ ...record, readings: { rollOutTurns: 10, rollOutM: 20 } })
        .expect(200)
    ).body as StandRecord;
    expect(stored.figures.find(({ key }) => key === 'displayError')!.value).toBeCloseTo(0.1, 9);
    const all = (await server.api.get(`/api/setups/${setup.id}/stand`)).body as StandRecord[];
    expect(all.map(({ revisionNumber }) => revisionNumber)).toEqual([2, 1]);
  });

  it('tells a second window what was stored meanwhile', async () => {
    await put({ ...record, version: 1, readings: {}, note: 'Weighed again.' }).expect(200);
    const refused = await put({ ...record, version: 1, readings: {}, note: 'Mine.' }).expect(409);
    expect(refused.body.error.details.current).toMatchObject({ version: 2, note: 'Weighed again.' });
    await put({ ...record, readings: {} }).expect(409);
  });

  it.each([
    ['no name', { by: '' }],
    ['a day that is none', { day: '2026-02-31' }],
    ['a negative mass', { readings: { frontKg: -1 } }],
  ])('is refused with %s', async (_what, wrong) => {
    await put({ ...record, readings: {}, ...wrong }).expect(400);
  });
});

describe('findings', () => {
  const add = (body: object) =>
    server.api
      .post(`/api/setups/${setup.id}/findings`)
      .send({ revisionId: setup.revisions[0]!.id, by: 'Bram Tellow', cause: 'Cable loose at the axle.', ...body });
  it('are noted by symptom with the revision they were met on, and taken back', async () => {
    const [finding] = (await add({ symptom: 'noise', suspect: 'loose-cable' }).expect(201)).body as Finding[];
    expect(finding).toMatchObject({ symptom: 'noise', suspect: 'loose-cable', revisionNumber: 1, cure: '' });
    expect((await server.api.delete(`/api/setups/${setup.id}/findings/${finding!.id}`).expect(200)).body).toEqual([]);
  });
  it('are refused for a symptom or suspect that is not on the list', async () => {
    await add({ symptom: 'smell' }).expect(400);
    await add({ symptom: 'noise', suspect: 'magnets' }).expect(400);
  });
  it('do not reach into another setup', async () => {
    const other = await bench.addSetup('Another');
    await add({ symptom: 'noise', revisionId: other.revisions[0]!.id }).expect(404);
    const [finding] = (await add({ symptom: 'noise' }).expect(201)).body as Finding[];
    await server.api.delete(`/api/setups/${other.id}/findings/${finding!.id}`).expect(404);
  });
});
