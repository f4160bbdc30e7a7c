import type { Knex } from 'knex';
import type { LogEntry, Part, TrashEntry } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';
import { startTestBench, type Bench, type TestApp } from '../testing/make-bench.js';

let server: TestApp;
let bench: Bench;
let database: Knex;
beforeAll(async () => {
  ({ server, bench } = await startTestBench());
  database = server.app.get<Knex>(KNEX);
});
afterAll(() => server.close());

const listed = async (): Promise<TrashEntry[]> =>
  (await server.api.get('/api/upkeep/trash').expect(200)).body as TrashEntry[];
const restore = (id: string, status = 204) => server.api.post(`/api/upkeep/trash/${id}/restore`).expect(status);

/** Rows of every table but the trash's own and what only counts, each table as one hash. */
async function hashes(): Promise<Record<string, string>> {
  const { rows } = await database.raw<{ rows: { name: string }[] }>(
    `select relname as name from pg_class where relnamespace = 'public'::regnamespace and relkind = 'r'
     and relname not in ('trash', 'trash_row', 'trash_link', 'history_entry', 'logbook_change')`,
  );
  const found: Record<string, string> = {};
  for (const { name } of rows) {
    const { rows: all } = await database.raw<{ rows: { hash: string }[] }>(
      `select md5(coalesce(string_agg(t::text, E'\\n' order by t::text), '')) as hash from ?? t`,
      [name],
    );
    found[name] = all[0]!.hash;
  }
  return found;
}

const FORETOLD = { key: 'time', label: 'time', value: 600, unit: 's', interval95: [500, 700], contributions: [] };

describe('the trash', () => {
  it('knows every table whose rows go when a thing goes', async () => {
    const { rows } = await database.raw<{ rows: { name: string; kept: boolean }[] }>(`
      with recursive gone(name) as (
        select c.relname::text from pg_trigger t join pg_class c on c.oid = t.tgrelid
        where t.tgname = 'keep_in_trash' and encode(t.tgargs, 'escape') like 'true%'
        union
        select child.relname::text from pg_constraint k join pg_class child on child.oid = k.conrelid
        join pg_class parent on parent.oid = k.confrelid join gone on gone.name = parent.relname
        where k.contype = 'f' and k.confdeltype = 'c'
      )
      select name, exists (select from pg_trigger t join pg_class c on c.oid = t.tgrelid where t.tgname = 'keep_in_trash' and c.relname = gone.name) as kept from gone`);
    expect(rows.length).toBeGreaterThan(25);
    expect(rows.filter(({ kept }) => !kept)).toEqual([]);
  });

  it('brings a setup back with revisions, marks, photos and entries, exactly as it was', async () => {
    const setup = await bench.addSetup('Whole');
    await server.api
      .post('/api/logbook/entries')
      .send({
        entries: [
          {
            id: '01900000-0000-7000-8000-0000000000e1',
            subject: { kind: 'setup', id: setup.id },
            day: '2026-04-01',
            details: { kind: 'fault', part: 'chain', effect: 'nuisance', words: 'It rattles' },
          },
        ],
      })
      .expect(200);
    const before = await hashes();
    await server.api.delete(`/api/setups/${setup.id}`).expect(204);
    await server.api.get(`/api/setups/${setup.id}`).expect(404);
    const [entry] = await listed();
    expect(entry).toMatchObject({ kind: 'setup', name: 'Whole' });
    expect(entry!.rows).toBeGreaterThan(4);
    await restore(entry!.id);
    expect(await hashes()).toEqual(before);
    expect(await listed()).toEqual([]);
    await restore(entry!.id, 404);
  });

  it('brings a trial back with arms, plan and slots', async () => {
    const setups = [await bench.addSetup('A'), await bench.addSetup('B')];
    const trial = await bench.addTrial('Which of them?', setups);
    const before = await hashes();
    await server.api.delete(`/api/trials/${trial.id}`).expect(204);
    const [entry] = await listed();
    expect(entry).toMatchObject({ kind: 'trial', name: 'Which of them?' });
    await restore(entry!.id);
    expect(await hashes()).toEqual(before);
  });

  it('ties again what stayed and had only forgotten what it belonged to, unless it belongs to something else by now', async () => {
    const addCourse = async (name: string): Promise<string> =>
      (
        (
          await server.api
            .post('/api/courses')
            .send({ name, kind: 'loop', surface: 'asphalt', lengthM: 3000 })
            .expect(201)
        ).body as { id: string }
      ).id;
    const [mill, ford] = [await addCourse('Mill loop'), await addCourse('Ford loop')];
    const setup = await bench.addSetup('Foretold');
    const keep = async (title: string): Promise<string> =>
      (
        (
          await server.api
            .post('/api/forecasts')
            .send({
              title,
              setupId: setup.id,
              courseId: mill,
              question: { address: 'a=1', words: title },
              figures: [FORETOLD],
            })
            .expect(201)
        ).body as { id: string }
      ).id;
    const [stays, moves] = [await keep('Stays'), await keep('Moves')];
    const before = await hashes();
    await server.api.delete(`/api/courses/${mill}`).expect(204);
    const courseOf = async (id: string): Promise<string | null> =>
      (await database('kept_forecast').where({ id }).first<{ course_id: string | null }>('course_id')).course_id;
    expect([await courseOf(stays), await courseOf(moves)]).toEqual([null, null]);
    await restore((await listed())[0]!.id);
    expect(await hashes()).toEqual(before);
    await server.api.delete(`/api/courses/${mill}`).expect(204);
    await database('kept_forecast').where({ id: moves }).update({ course_id: ford });
    await restore((await listed())[0]!.id);
    expect([await courseOf(stays), await courseOf(moves)]).toEqual([mill, ford]);
  });

  it('holds nothing of what is only changed', async () => {
    const trial = await bench.addTrial('Changed?', [await bench.addSetup('C'), await bench.addSetup('D')]);
    const { decidingFigure, smallestDifference, course, version } = trial;
    const arms = [...trial.setups].reverse().map(({ revisionId }) => ({ revisionId }));
    const change = { question: 'Changed!', decidingFigure, smallestDifference, courseId: course!.id, arms, version };
    await server.api.put(`/api/trials/${trial.id}`).send(change).expect(200);
    expect(await listed()).toEqual([]);
  });

  it('says why something cannot come back, and changes nothing then', async () => {
    const add = async (name: string): Promise<Part> =>
      (await server.api.post('/api/bench/chargers').send({ name }).expect(201)).body as Part;
    const first = await add('Charger one');
    await server.api.delete(`/api/bench/chargers/${first.id}`).expect(204);
    const [entry] = await listed();
    const second = await add('Charger one');
    const before = await hashes();
    const taken = await restore(entry!.id, 409);
    expect((taken.body as { error: { code: string } }).error.code).toBe('already-there');
    expect(await hashes()).toEqual(before);
    await server.api.delete(`/api/bench/chargers/${second.id}`).expect(204);
    for (const { id } of await listed()) await server.api.delete(`/api/upkeep/trash/${id}`).expect(204);

    const setup = await bench.addSetup('Gone first');
    const at = {
      subject: { kind: 'setup', id: setup.id },
      day: '2026-04-02',
      details: { kind: 'note', words: 'Seen' },
    };
    await server.api
      .post('/api/logbook/entries')
      .send({ entries: [{ id: '01900000-0000-7000-8000-0000000000e2', ...at }] })
      .expect(200);
    const note = (await server.api.get('/api/logbook/entries').expect(200)).body as { entries: LogEntry[] };
    const { id, version } = note.entries.find((one) => one.details.kind === 'note')!;
    await server.api.delete(`/api/logbook/entries/${id}?version=${version}`).expect(204);
    const [noteEntry] = await listed();
    expect(noteEntry).toMatchObject({ kind: 'log_entry', name: 'note 2026-04-02', rows: 1 });
    await server.api.delete(`/api/setups/${setup.id}`).expect(204);
    const { body } = await restore(noteEntry!.id, 409);
    expect((body as { error: { message: string } }).error.message).toMatch(/Bring that back first/);
    const [setupEntry] = await listed();
    await restore(setupEntry!.id);
    await restore(noteEntry!.id);
  });

  it('is emptied of what is older than a month, and of what an owner drops for good', async () => {
    const { id } = (await server.api.post('/api/bench/riders').send({ name: 'Passing through' }).expect(201))
      .body as Part;
    await server.api.delete(`/api/bench/riders/${id}`).expect(204);
    const [entry] = await listed();
    await server.api.delete(`/api/upkeep/trash/${entry!.id}`).expect(204);
    await restore(entry!.id, 404);
    expect(await database('trash_row').where({ trash_id: entry!.id })).toEqual([]);
  });
});
