import type { Knex } from 'knex';
import { KNEX } from '../database/database.module.js';
import { startTestBench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';
import { DerivedTables } from './derived-tables.js';

/** More than are fetched at a time. */
const TRIALS = 120;
const RUNS = 1100;

let server: TestApp;
let knex: Knex;
beforeAll(async () => {
  const started = await startTestBench();
  server = started.server;
  knex = server.app.get<Knex>(KNEX);
  const { bench } = started;
  const [thrifty, thirsty] = [await bench.addSetup('Thrifty'), await bench.addSetup('Thirsty')];
  await bench.addRun(makeRideCsv({ current: 5, salt: 1 }), thrifty);
  await bench.addTrial('Which is thrifty?', [thrifty, thirsty]);
});
afterAll(() => server.close());

/** Rows like the one that is there, under keys of their own. */
async function copies(table: 'run' | 'trial', count: number): Promise<void> {
  // No log has the same part twice: each is of a part of its own.
  await knex.raw(
    `insert into ?? select copy.* from (select one from ?? one limit 1) the, generate_series(1, ?) n,
       lateral jsonb_populate_record(the.one,
         jsonb_build_object('id', md5(random()::text || n)::uuid, 'from_s', n, 'to_s', n + 1)) copy`,
    [table, table, count],
  );
}
async function cellsOf(path: string, column: number): Promise<string[]> {
  const tables = await server.app.get(DerivedTables).of(undefined, undefined);
  const found: string[] = [];
  for await (const row of tables.find((table) => table.path === path)!.rows()) found.push(row[column]!);
  return found;
}

describe('tables for those who compute at once', () => {
  it('tell of each trial once and of all, the archived ones too, however many there are', async () => {
    await copies('trial', TRIALS);
    await knex.raw(
      `insert into trial_setup (trial_id, position, revision_id)
         select t.id, s.position, s.revision_id from trial t, trial_setup s
         where not exists (select from trial_setup x where x.trial_id = t.id)`,
    );
    await knex.raw(`update trial set archived_at = now() where id in (select id from trial order by id limit 60)`);
    const all = ((await knex('trial').pluck('id')) as string[]).sort();
    expect(all).toHaveLength(TRIALS + 1);
    // One line a trial: there is nothing to compare yet, and one run of each.
    expect((await cellsOf('derived/verdicts.csv', 0)).sort()).toEqual(all);
    expect((await cellsOf('derived/trial_runs.csv', 0)).sort()).toEqual(all);
  });
  it('tell of each run once and of all that are not deleted, in the order of their keys', async () => {
    await copies('run', RUNS);
    const [gone] = (await knex('run').orderBy('id').offset(600).limit(1).pluck('id')) as [string];
    await knex('run').where({ id: gone }).update({ deleted_at: knex.fn.now() });
    const kept = (await knex('run').whereNot({ id: gone }).orderBy('id').pluck('id')) as string[];
    expect(kept).toHaveLength(RUNS);
    expect(await cellsOf('derived/runs.csv', 0)).toEqual(kept);
  });
});
