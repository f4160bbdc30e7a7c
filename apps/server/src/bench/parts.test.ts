import type { Part, Setup } from '@ebrix/contract';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';

let server: TestApp;
let bench: Bench;
beforeAll(async () => ({ server, bench } = await startTestBench()));
afterAll(() => server.close());

describe('parts and setups', () => {
  it('tells both versions when two windows change one part', async () => {
    const { id, version } = bench.bike;
    const change = (massKg: number) =>
      server.api.put(`/api/bench/bikes/${id}`).send({ version, name: 'Round bike', massKg });
    const first = (await change(25).expect(200)).body as Part;
    const second = await change(26).expect(409);
    expect(second.body.error).toMatchObject({ code: 'changed-meanwhile', details: { current: first } });
  });

  it('refuses to delete what a setup uses, and lets it be archived', async () => {
    await bench.addSetup('Uses the kit');
    const refused = await server.api.delete(`/api/bench/kits/${bench.kit.id}`).expect(409);
    expect(refused.body.error).toMatchObject({ code: 'in-use', message: expect.stringContaining('Archive') });
    const archived = await server.api
      .put(`/api/bench/kits/${bench.kit.id}/archive`)
      .send({ version: bench.kit.version, archived: true })
      .expect(200);
    expect(archived.body.archivedAt).not.toBeNull();
  });

  it('does not take the same name twice', async () => {
    await server.api.post('/api/bench/riders').send({ name: 'Bram Tellow' }).expect(201);
    const again = await server.api.post('/api/bench/riders').send({ name: 'bram tellow' }).expect(409);
    expect(again.body.error.code).toBe('already-there');
  });

  it.each([
    ['a mass below zero', { name: 'Light', massKg: -1 }],
    ['an empty name', { name: '   ' }],
    ['an unknown field', { name: 'Odd', colour: 'red' }],
    ['a name with a direction mark', { name: 'a\u202eb' }],
    ['a prototype as field', JSON.parse('{"name":"Proto","__proto__x":1}') as object],
  ])('refuses %s with the place', async (_what, body) => {
    const answer = await server.api.post('/api/bench/riders').send(body).expect(400);
    expect(answer.body.error.code).toBe('invalid-request');
    expect(answer.body.error.details.issues.length).toBeGreaterThan(0);
  });

  it('numbers revisions and leaves what was ridden as it was when a part changes', async () => {
    const setup = await bench.addSetup('Revised');
    const latest = ((await server.api.get('/api/bench/packs')).body as Part<'packs'>[])[0]!;
    await server.api
      .put(`/api/bench/packs/${latest.id}`)
      .send({
        version: latest.version,
        name: 'Fennock 52, relabelled',
        chemistry: 'li-ion-nmc',
        nominalVoltageV: 48,
        capacityAh: 10,
      })
      .expect(200);
    const revision = {
      bikeId: bench.bike.id,
      kitId: bench.kit.id,
      packIds: [latest.id],
      settings: {},
      change: 'New label',
    };
    const revised = (await server.api.post(`/api/setups/${setup.id}/revisions`).send(revision).expect(201))
      .body as Setup;
    expect(revised.revisions.map(({ number, packs }) => [number, packs[0]!.name])).toEqual([
      [2, 'Fennock 52, relabelled'],
      [1, 'Fennock 52'],
    ]);
  });

  it('says that a thing is gone rather than failing', async () => {
    await server.api.get('/api/setups/01900000-0000-7000-8000-000000000000').expect(404);
    const answer = await server.api.get('/api/setups/not-an-id').expect(400);
    expect(answer.body.error.code).toBe('invalid-request');
  });
});
