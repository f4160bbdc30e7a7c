import type { RatingDto, SetupDetail } from '@ebrix/contract';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';

let server: TestApp;
let bench: Bench;
let setup: SetupDetail;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  setup = await bench.addSetup('Corvane R2, 52 V');
});
afterAll(() => server.close());

const add = (change: object) =>
  server.api.post(`/api/setups/${setup.id}/ratings`).send({
    revisionId: setup.revisions[0]!.id,
    rider: 'Bram Tellow',
    day: '2026-05-02',
    values: { noise: 4, braking: 2 },
    ...change,
  });

it('what riders say is kept as said, shown with its setup and its trials, and can be taken back', async () => {
  await add({ phase: 'before', values: { noise: 2 } }).expect(201);
  const all = (await add({ rider: 'Ottoline Vask', isBlind: true, note: '<b>whirrs</b>' }).expect(201))
    .body as RatingDto[];
  expect(all.map(({ rider, phase, isBlind }) => [rider, phase, isBlind])).toEqual([
    ['Ottoline Vask', 'after', true],
    ['Bram Tellow', 'before', false],
  ]);
  expect(all[0]).toMatchObject({ setupName: setup.name, revisionNumber: 1, note: '<b>whirrs</b>', day: '2026-05-02' });
  const other = await bench.addSetup('Dromel D5, 52 V');
  await add({ revisionId: other.revisions[0]!.id }).expect(404);
  const trial = (
    await server.api
      .post('/api/trials')
      .send({
        question: 'Which is quieter?',
        decidingFigure: 'netConsumption',
        smallestDifference: { kind: 'relative', value: 0.05 },
        arms: [setup, other].map(({ revisions }) => ({ revisionId: revisions[0]!.id })),
      })
      .expect(201)
  ).body as { id: string };
  expect((await server.api.get(`/api/trials/${trial.id}/ratings`).expect(200)).body).toHaveLength(2);
  await server.api.delete(`/api/ratings/${all[0]!.id}`).expect(204);
  await server.api.delete(`/api/ratings/${all[0]!.id}`).expect(404);
  expect((await server.api.get(`/api/setups/${setup.id}/ratings`)).body).toHaveLength(1);
});

it.each([
  ['no step', { values: { noise: 9 } }],
  ['half a step', { values: { noise: 2.5 } }],
  ['no scale', { values: { charm: 3 } }],
  ['nothing rated', { values: {} }],
  ['nobody', { rider: '' }],
])('is refused with %s, and nothing is stored', async (_what, change) => {
  const before = ((await server.api.get(`/api/setups/${setup.id}/ratings`)).body as RatingDto[]).length;
  await add(change).expect(400);
  expect((await server.api.get(`/api/setups/${setup.id}/ratings`)).body).toHaveLength(before);
});
