import type { Fitting, FittingStep, FittingSummary, FittingTemplate, SetupDetail } from '@ebrix/contract';
import { Clock } from '../common/clock.js';
import { makeBench } from '../testing/make-bench.js';
import { startTestApp, type TestApp } from '../testing/test-app.js';

let server: TestApp;
let setup: SetupDetail;
let now = new Date('2026-04-01T08:00:00.000Z');
beforeAll(async () => {
  server = await startTestApp();
  jest.spyOn(Clock.prototype, 'now').mockImplementation(() => now);
  setup = await (await makeBench(server)).addSetup('Corvane on the round bike');
});
afterAll(async () => {
  jest.restoreAllMocks();
  await server.close();
});
const pass = (minutes: number): void => void (now = new Date(now.getTime() + minutes * 60_000));
const get = async (): Promise<Fitting> =>
  (await server.api.get(`/api/setups/${setup.id}/fitting`).expect(200)).body as Fitting;
const clock = (version: number, stepId: string, isRunning: boolean) =>
  server.api.post(`/api/setups/${setup.id}/fitting/clock`).send({ version, stepId, isRunning });
const save = (version: number, steps: readonly object[]) =>
  server.api.put(`/api/setups/${setup.id}/fitting`).send({ version, steps });
const bare = ({ runningSince: _runningSince, ...step }: FittingStep) => step;
const step = (fitting: Fitting, id: string): FittingStep => fitting.steps.find((one) => one.id === id)!;

describe('a fitting', () => {
  it('begins with the steps the setup asks for, nothing stored', async () => {
    const fitting = await get();
    expect(fitting).toMatchObject({ version: 0, updatedAt: null });
    expect(fitting.steps[0]!.id).toBe('unpack');
    expect((await server.api.get('/api/fittings')).body).toEqual([]);
  });

  it('keeps a clock running over reloads, one step at a time', async () => {
    const started = (await clock(0, 'unpack', true).expect(200)).body as Fitting;
    expect(started.version).toBe(1);
    pass(12);
    expect(step(await get(), 'unpack').runningSince).toBe('2026-04-01T08:00:00.000Z');
    const next = (await clock(1, 'stand', true).expect(200)).body as Fitting;
    expect(step(next, 'unpack')).toMatchObject({ elapsedS: 720, runningSince: null });
    expect(step(next, 'stand').runningSince).not.toBeNull();
    pass(3);
    const [summary] = (await server.api.get('/api/fittings')).body as FittingSummary[];
    expect(summary).toMatchObject({ elapsedS: 900, done: 0, kitName: 'Corvane R2' });
    const stopped = (await clock(2, 'stand', false).expect(200)).body as Fitting;
    expect(step(stopped, 'stand')).toMatchObject({ elapsedS: 180, runningSince: null });
  });

  it('takes order, notes and own steps, and does not let them touch a running clock', async () => {
    const before = (await clock((await get()).version, 'wheel-out', true).expect(200)).body as Fitting;
    pass(5);
    const steps = [...before.steps].reverse().map(bare);
    const noted = steps.map((one) =>
      one.id === 'wheel-in'
        ? { ...one, difficulty: 4, trouble: 'Axle too tight for the slot.', cure: 'Dressed the paint off.' }
        : one,
    );
    const own = { id: 'own-1', title: 'Mudguard moved', tools: ['drill'] };
    const saved = (await save(before.version, [...noted, own]).expect(200)).body as Fitting;
    expect(saved.steps.at(-1)).toMatchObject({ id: 'own-1', isDone: false, elapsedS: 0 });
    expect(saved.steps[0]!.id).toBe('settings');
    expect(step(saved, 'wheel-out').runningSince).not.toBeNull();
    const done = saved.steps.map((one) => ({ ...bare(one), isDone: one.id === 'wheel-out' || one.isDone }));
    const after = (await save(saved.version, done).expect(200)).body as Fitting;
    expect(step(after, 'wheel-out')).toMatchObject({ isDone: true, elapsedS: 300, runningSince: null });
    const [summary] = (await server.api.get('/api/fittings')).body as FittingSummary[];
    expect(summary).toMatchObject({
      done: 1,
      troubles: 1,
      hardest: { title: expect.stringContaining('wheel in'), difficulty: 4 },
    });
    expect(summary!.tools).toContain('drill');
  });

  it('tells a second window what was stored meanwhile', async () => {
    const { version, steps } = await get();
    await save(version, steps.map(bare)).expect(200);
    const refused = await save(version, steps.map(bare)).expect(409);
    expect(refused.body.error).toMatchObject({
      code: 'changed-meanwhile',
      details: { current: { version: version + 1 } },
    });
    await clock(version, 'unpack', true).expect(409);
    await save(0, steps.map(bare)).expect(409);
  });

  it('refuses steps that cannot be', async () => {
    const { version } = await get();
    await save(version, [
      { id: 'a', title: 'A' },
      { id: 'a', title: 'B' },
    ]).expect(400);
    await save(version, [{ id: 'a', title: '' }]).expect(400);
    await save(version, [{ id: 'a', title: 'A', difficulty: 9 }]).expect(400);
    await clock(version, 'no-such-step', true).expect(404);
  });

  it('keeps own templates, one of each name', async () => {
    const steps = [{ id: 'wheel-out', title: 'Wheel out', tools: ['spanners'] }];
    const add = (name: string, seen?: string) =>
      server.api.post('/api/fitting-templates').send({ name, steps, ...(seen !== undefined && { seen }) });
    const [first] = (await add('Round bikes').expect(201)).body as FittingTemplate[];
    // Another window's that was not seen stays; the one that was seen is replaced, once.
    const refusal = (await add('round bikes').expect(409)).body as { error: { details: FittingTemplate[] } };
    expect(refusal.error.details).toEqual([first]);
    const templates = (await add('round bikes', first!.updatedAt).expect(201)).body as FittingTemplate[];
    await add('Round Bikes', first!.updatedAt).expect(409);
    expect(templates.map(({ name }) => name)).toEqual(['round bikes']);
    await server.api.delete(`/api/fitting-templates/${templates[0]!.id}`).expect(200);
    await server.api.delete(`/api/fitting-templates/${templates[0]!.id}`).expect(404);
  });
});
