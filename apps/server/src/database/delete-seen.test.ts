import type { Course, Outing, Part, UseDto } from '@ebrix/contract';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';

let server: TestApp;
let bench: Bench;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
});
afterAll(() => server.close());

interface Stored {
  readonly id: string;
  readonly version: number;
}
const made = async <T extends Stored>(path: string, body: object): Promise<T> =>
  (await server.api.post(`/api/${path}`).send(body).expect(201)).body as T;

/** Each kind of thing that has a version: how one is made, and how another window changes it. */
const THINGS: Record<string, { path: string; make: () => Promise<Stored>; changed?: object }> = {
  'a part': {
    path: 'bench/riders',
    make: () => made<Part>('bench/riders', { name: 'Bram Tellow' }),
    changed: { name: 'Bram Tellow', massKg: 80 },
  },
  'a course': {
    path: 'courses',
    make: () => made<Course>('courses', { name: 'Mill loop', kind: 'loop', surface: 'asphalt', lengthM: 3000 }),
    changed: { name: 'Mill loop', kind: 'loop', surface: 'asphalt', lengthM: 3100 },
  },
  'an outing': {
    path: 'outings',
    make: () => made<Outing>('outings', { title: 'Noon', date: '2026-05-01' }),
    changed: { title: 'Noon', date: '2026-05-02' },
  },
  'a use': {
    path: 'uses',
    make: () => made<UseDto>('uses', { name: 'Rounds', criteria: [{ key: 'cost', weight: 1 }] }),
    changed: { name: 'Rounds', criteria: [{ key: 'cost', weight: 2 }] },
  },
  'a setup': {
    path: 'setups',
    make: () => bench.addSetup('Spare'),
  },
  'a trial': {
    path: 'trials',
    make: async () => {
      const [one, two] = [await bench.addSetup('One'), await bench.addSetup('Two')];
      return bench.addTrial('Which?', [one, two]);
    },
  },
};

describe('what another window changed meanwhile', () => {
  it.each(Object.entries(THINGS))('is not deleted unseen: %s', async (_, { path, make }) => {
    const seen = await make();
    const at = `/api/${path}/${seen.id}`;
    // As if this window had seen the state before.
    const refused = await server.api.delete(`${at}?version=${seen.version + 1}`).expect(409);
    expect(refused.body).toMatchObject({ error: { code: 'changed-meanwhile' } });
    await server.api.delete(`${at}?version=x`).expect(400);
    await server.api.delete(`${at}?version=${seen.version}`).expect(204);
    await server.api.delete(`${at}?version=${seen.version}`).expect(404);
  });
  it.each(['a part', 'a course', 'an outing', 'a use'])('once it is looked at again it goes: %s', async (kind) => {
    const { path, make, changed } = THINGS[kind]!;
    const seen = await make();
    const at = `/api/${path}/${seen.id}`;
    const now = (
      await server.api
        .put(at)
        .send({ ...changed, version: seen.version })
        .expect(200)
    ).body as Stored;
    await server.api.delete(`${at}?version=${seen.version}`).expect(409);
    await server.api.delete(`${at}?version=${now.version}`).expect(204);
  });
});

describe('a track', () => {
  it('is not put on a course that another window changed meanwhile', async () => {
    const { id, version } = await made<Course>('courses', { name: 'Ford loop', kind: 'loop', surface: 'asphalt' });
    const track = 'distance (m),altitude (m)\n0,100\n500,110\n1000,100\n';
    const send = (seen: number) =>
      server.api.post(`/api/courses/${id}/track?version=${seen}`).attach('file', Buffer.from(track), 'track.csv');
    const set = (await send(version).expect(200)).body as Course;
    expect(set.version).toBeGreaterThan(version);
    expect((await send(version).expect(409)).body).toMatchObject({ error: { code: 'changed-meanwhile' } });
  });
});
