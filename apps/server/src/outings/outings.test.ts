import type { Outing, RunDetail } from '@ebrix/contract';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

let server: TestApp;
let bench: Bench;
beforeAll(async () => ({ server, bench } = await startTestBench()));
afterAll(() => server.close());

const WEATHER = { airTemperatureC: 12, windMps: 2, airPressureHpa: 1010, relativeHumidity: 0.6 };
const add = async (title: string, more: object = {}): Promise<Outing> => {
  const { body } = await server.api.post('/api/outings').send({ title, date: '2026-05-03', ...more });
  return body as Outing;
};
const listed = async (id: string): Promise<Outing | undefined> =>
  ((await server.api.get('/api/outings')).body as Outing[]).find((outing) => outing.id === id);

describe('an outing', () => {
  it('keeps its weather as it was noted, and what was not noted as not known', async () => {
    const noted = await add('Noted', WEATHER);
    expect(await listed(noted.id)).toMatchObject({ title: 'Noted', date: '2026-05-03', ...WEATHER, version: 1 });
    const bare = await add('Bare');
    expect(await listed(bare.id)).toMatchObject({ airTemperatureC: null, windMps: null });
  });
  it('is changed by one window and refused to the other, with both versions in the answer', async () => {
    const { id, version } = await add('Two windows');
    const change = (title: string) =>
      server.api.put(`/api/outings/${id}`).send({ title, date: '2026-05-03', ...WEATHER, version });
    await change('The first').expect(200);
    const { body } = await change('The second').expect(409);
    expect(body.error.details.current).toMatchObject({ title: 'The first', version: version + 1 });
    expect((await listed(id))!.title).toBe('The first');
  });
  it.each([
    ['a day that is none', { date: '2026-02-30' }],
    ['a temperature no one rides in', { airTemperatureC: 900 }],
    ['a humidity above all', { relativeHumidity: 1.5 }],
    ['a field that does not exist', { moonPhase: 3 }],
    ['no day', { date: undefined }],
  ])('is refused with %s', async (_, wrong) => {
    const before = ((await server.api.get('/api/outings')).body as Outing[]).length;
    await server.api
      .post('/api/outings')
      .send({ title: 'Wrong', date: '2026-05-03', ...WEATHER, ...wrong })
      .expect(400);
    expect((await server.api.get('/api/outings')).body).toHaveLength(before);
  });
  it('that is not there is not found, nor one whose id is none', async () => {
    const id = '01a21704-a479-7161-b5c2-f6d03a14dea1';
    await server.api.put(`/api/outings/${id}`).send({ title: 'x', date: '2026-05-03', version: 1 }).expect(404);
    await server.api.delete(`/api/outings/${id}`).expect(404);
    await server.api.delete('/api/outings/1 or 1=1').expect(400);
  });
  it('with runs is not deleted; without, it is', async () => {
    await bench.addRun(makeRideCsv({ salt: 77 }), await bench.addSetup('Rider of outings'));
    await server.api.delete(`/api/outings/${bench.outing.id}`).expect(409);
    const { id } = await add('Nobody rode');
    await server.api.delete(`/api/outings/${id}`).expect(204);
    expect(await listed(id)).toBeUndefined();
  });
  it('whose weather is corrected gets its runs worked out again', async () => {
    const runId = await bench.addRun(makeRideCsv({ salt: 78 }), await bench.addSetup('Rider in other weather'));
    const run = async (): Promise<RunDetail> => (await server.api.get(`/api/runs/${runId}`)).body as RunDetail;
    const valueOf = ({ allFigures }: RunDetail, key: string) => allFigures.find((figure) => figure.key === key)?.value;
    const before = await run();
    const { version } = (await listed(bench.outing.id))!;
    const { title, date } = bench.outing;
    await server.api
      .put(`/api/outings/${bench.outing.id}`)
      .send({ title, date, ...WEATHER, airTemperatureC: -5, version })
      .expect(200);
    for (let k = 0; k < 100 && (await run()).isRecalculating; k++) await new Promise((done) => setTimeout(done, 100));
    const after = await run();
    expect(after.isRecalculating).toBe(false);
    expect(valueOf(after, 'distance')).toBe(valueOf(before, 'distance'));
    // A pack in the cold gives less.
    expect(valueOf(after, 'rangeToCutoff')!).toBeLessThan(0.97 * valueOf(before, 'rangeToCutoff')!);
  });
});
