import type { Elsewhere, FoundElsewhere, SetupDetail, Trial } from '@ebrix/contract';
import { elsewhereSchema, metaAnalysisSchema } from '@ebrix/contract';
import type { Knex } from 'knex';
import { KNEX } from '../database/database.module.js';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

let server: TestApp;
let bench: Bench;
let trial: Trial;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  const setups: SetupDetail[] = [await bench.addSetup('Thrifty'), await bench.addSetup('Thirsty')];
  for (const [k, current] of [5.0, 5.1].entries()) await bench.addRun(makeRideCsv({ current, salt: k }), setups[0]!);
  for (const [k, current] of [6.0, 6.1].entries())
    await bench.addRun(makeRideCsv({ current, salt: 9 + k }), setups[1]!);
  trial = await bench.addTrial('Which is thrifty?', setups);
});
afterAll(() => server.close());

const STUDY = { tester: 'Hazel Quill', a: 'A', b: 'B', ratio: 0.9, lower: 0.85, upper: 0.95, runs: 6 };
const path = (): string => `/api/trials/${trial.id}/elsewhere`;

it('what others found stands beside the own answer, turned the right way round, and is put together', async () => {
  const alone = elsewhereSchema.parse((await server.api.get(path()).expect(200)).body);
  expect(alone).toMatchObject([{ a: 'A', b: 'B', aName: 'Thrifty', bName: 'Thirsty', studies: [], pooled: null }]);
  expect(alone[0]!.own!.ratio).toBeCloseTo(0.84, 1);
  await server.api.post(path()).send(STUDY).expect(201);
  const [pair] = (
    await server.api
      .post(path())
      .send({ ...STUDY, tester: 'Odo Fenn', a: 'B', b: 'A', ratio: 1.25, lower: 1.2, upper: 1.3 })
      .expect(201)
  ).body as Elsewhere;
  expect(
    pair!.studies.map(({ tester, ratio, lower }) => [tester, Number(ratio.toFixed(6)), Number(lower.toFixed(6))]),
  ).toEqual([
    ['Hazel Quill', 0.9, 0.85],
    ['Odo Fenn', 0.8, Number((1 / 1.3).toFixed(6))],
  ]);
  expect(pair!.pooled!.ratio).toBeGreaterThan(0.8);
  expect(pair!.pooled!.ratio).toBeLessThan(0.9);
  expect(pair!.pooled!.words).toMatch(/With 3 testers that is hardly known/);
  // Nothing of it is among the trial's own runs, and setting it beside was no look at the verdict.
  const looks: unknown[] = await server.app.get<Knex>(KNEX)('trial_look').select('*');
  expect(looks).toHaveLength(0);
  await server.api.delete(`/api/elsewhere/${pair!.studies[0]!.id}`).expect(204);
  await server.api.delete(`/api/elsewhere/${pair!.studies[0]!.id}`).expect(404);
});

it('a colleague’s data package says what its trials found', async () => {
  const { body } = await server.api.get('/api/package').responseType('blob').expect(200);
  const found = (
    await server.api
      .post('/api/elsewhere/package')
      .attach('file', body as Buffer, 'theirs.zip')
      .expect(200)
  ).body as FoundElsewhere[];
  expect(found).toMatchObject([
    { question: 'Which is thrifty?', figure: 'netConsumption', a: 'Thrifty', b: 'Thirsty', runs: 4 },
  ]);
  expect(found[0]!.lower).toBeLessThan(found[0]!.ratio);
  await server.api.post('/api/elsewhere/package').attach('file', Buffer.from('x'), 'x.zip').expect(422);
});

it.each([
  ['one setup twice', { b: 'A' }],
  ['a setup the trial has not', { b: 'F' }],
  ['an interval that does not hold the ratio', { lower: 0.95, upper: 0.99 }],
  ['no ratio', { ratio: 0 }],
  ['nobody', { tester: '' }],
])('is refused with %s', async (_what, change) => {
  await server.api
    .post(path())
    .send({ ...STUDY, ...change })
    .expect(400);
});

it('the same for studies of one’s own, nothing stored', async () => {
  const studies = [
    { name: 'one', estimate: -0.2, standardError: 0.0447213595499958 },
    { name: 'two', estimate: 0.05, standardError: 0.0632455532033676 },
  ];
  const answer = metaAnalysisSchema.parse(
    (await server.api.post('/api/quick-look/meta-analysis').send({ studies }).expect(200)).body,
  );
  expect(answer.estimate).toBeCloseTo(-0.079, 9);
  expect(answer.between ** 2).toBeCloseTo(0.02825, 9);
  await server.api
    .post('/api/quick-look/meta-analysis')
    .send({ studies: studies.slice(1) })
    .expect(400);
});
