import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { RunSummary } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';
import { startTestBench, type TestApp } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';

/** Filling a store of 100 000 runs. */
jest.setTimeout(600_000);

const LARGE = new Set(['run', 'figure', 'log', 'ride']);
interface PlanNode {
  readonly 'Node Type': string;
  readonly 'Relation Name'?: string;
  readonly Plans?: readonly PlanNode[];
}

let server: TestApp;
let knex: Knex;
beforeAll(async () => {
  const started = await startTestBench();
  server = started.server;
  knex = server.app.get<Knex>(KNEX);
  await started.bench.addRun(makeRideCsv(), await started.bench.addSetup('Fit of all'));
  const fill = readFileSync(join(import.meta.dirname, '../testing/large-store.sql'), 'utf8');
  await knex.transaction((transaction) => transaction.raw(fill));
  await knex.raw('vacuum');
});
afterAll(() => server.close());

/** Tables that a request goes through from end to end. */
async function scannedBy(path: string): Promise<string[]> {
  const asked: { sql: string; bindings: readonly Knex.RawBinding[] }[] = [];
  const note = ({ sql, bindings }: (typeof asked)[number]): void => void asked.push({ sql, bindings });
  knex.on('query', note);
  await server.api.get(`/api/${path}`).expect(200);
  knex.removeListener('query', note);
  const scanned: string[] = [];
  for (const { sql, bindings } of asked.filter((one) => /^\s*(select|with)/i.test(one.sql))) {
    // The driver numbered what was bound; a question mark is asked for again.
    const again = sql.replaceAll(/\$\d+/g, '?');
    const { rows } = await knex.raw<{ rows: { 'QUERY PLAN': [{ Plan: PlanNode }] }[] }>(
      `explain (format json) ${again}`,
      bindings,
    );
    const walk = (node: PlanNode): void => {
      const table = node['Relation Name'];
      if (node['Node Type'] === 'Seq Scan' && table !== undefined && LARGE.has(table)) scanned.push(`${table}: ${sql}`);
      node.Plans?.forEach(walk);
    };
    walk(rows[0]!['QUERY PLAN'][0].Plan);
  }
  return scanned;
}
const idOf = async (table: string, where: object): Promise<string> =>
  (await knex(table).where(where).first<{ id: string }>('id')).id;
const page = async (query: object): Promise<RunSummary[]> =>
  ((await server.api.get('/api/runs').query(query).expect(200)).body as { items: RunSummary[] }).items;

describe('a store of 100 000 runs', () => {
  it.each([
    'runs',
    'runs?page=900',
    'runs?page=1900',
    'runs?order=up',
    'runs?sort=netConsumption&order=up',
    'runs?sort=netConsumption&page=40',
    'runs?sort=setup&order=up',
    'runs?sort=course',
    'runs?sort=file&order=up',
    'runs?text=copy-4711',
    'runs?state=deleted',
    'rides',
    'courses',
    'trials?limit=50',
  ])('answers %s without going through a large table', async (path) => {
    expect(await scannedBy(path)).toEqual([]);
  });
  it('answers for one setup, course, outing and trial without going through a large table', async () => {
    const setup = await idOf('setup', { name: 'Fit 7' });
    const course = await idOf('course', { name: 'Round 3' });
    const outing = await idOf('outing', { title: 'Day 100' });
    const trial = await idOf('trial', { question: 'Which of two goes further, no. 11' });
    for (const path of [
      `runs?setup=${setup}`,
      `runs?course=${course}&sort=netConsumption`,
      `runs?outing=${outing}`,
      `setups/${setup}/figures`,
      `setups/${setup}`,
      `courses/${course}`,
      `trials/${trial}`,
      `trials/${trial}/runs`,
      `trials/${trial}/verdict`,
      `trials?id=${trial}`,
    ])
      expect({ path, scanned: await scannedBy(path) }).toEqual({ path, scanned: [] });
  });

  it('is listed the same from either end, page after page', async () => {
    const { total } = (await server.api.get('/api/runs?pageSize=200').expect(200)).body as { total: number };
    const pages = Math.ceil(total / 200);
    // About the middle, where the counting turns, and at the end.
    for (const order of ['up', 'down'] as const)
      for (const at of [Math.floor(pages / 2), Math.floor(pages / 2) + 1, pages]) {
        const items = await page({ pageSize: 200, page: at, order });
        const turned = await page({ pageSize: 200, page: 1, order });
        expect(items.length).toBe(at === pages ? total - 200 * (pages - 1) : 200);
        const dates = items.map(({ outing, id }) => `${outing.date} ${id}`);
        expect(dates).toEqual(order === 'up' ? dates.toSorted() : dates.toSorted().reverse());
        expect(turned[0]!.outing.date < items.at(-1)!.outing.date).toBe(order === 'up');
      }
    const [before, after] = [
      await page({ pageSize: 200, page: Math.floor(pages / 2) }),
      await page({ pageSize: 200, page: Math.floor(pages / 2) + 1 }),
    ];
    const key = ({ outing, id }: RunSummary): string => `${outing.date} ${id}`;
    expect(key(before.at(-1)!) > key(after[0]!)).toBe(true);
  });

  it('is sorted by a figure with those that lack it at the end, and none twice', async () => {
    // Of one outing, of which a few have no consumption.
    const outing = await idOf('outing', { title: 'Day 200' });
    const some = await knex('run')
      .where({ outing_id: outing })
      .whereNull('deleted_at')
      .limit(5)
      .select<{ id: string }[]>('id');
    await knex('figure')
      .whereIn(
        'run_id',
        some.map(({ id }) => id),
      )
      .where({ key: 'netConsumption' })
      .delete();
    const all: RunSummary[] = [];
    for (let at = 1; at <= 10; at++)
      all.push(...(await page({ outing, sort: 'netConsumption', order: 'up', pageSize: 7, page: at })));
    const { total } = (await server.api.get('/api/runs').query({ outing }).expect(200)).body as { total: number };
    expect(new Set(all.map(({ id }) => id)).size).toBe(total);
    expect(all).toHaveLength(total);
    const values = all.map(({ figures }) => figures.netConsumption?.value ?? Infinity);
    expect(values).toEqual(values.toSorted((a, b) => a - b));
    expect(values.filter((value) => value === Infinity)).toHaveLength(5);
  });
});

describe('the list of 5 000 trials', () => {
  it('comes in pieces, newest first and archived ones last, each trial once', async () => {
    await knex.raw("update trial set archived_at = now() where question like '%no. 1__'");
    const seen: { id: string; archivedAt: string | null }[] = [];
    let after: string | undefined;
    for (;;) {
      const piece = (
        await server.api
          .get('/api/trials')
          .query({ limit: 500, ...(after && { after }) })
          .expect(200)
      ).body as typeof seen;
      seen.push(...piece);
      after = piece.at(-1)?.id;
      if (piece.length < 500) break;
    }
    const names = (await server.api.get('/api/trials/names').expect(200)).body as { id: string }[];
    expect(seen.map(({ id }) => id)).toEqual(names.map(({ id }) => id));
    expect(seen).toHaveLength(5000);
    const found = (await server.api.get('/api/trials').query({ text: 'NO. 4711', limit: 50 }).expect(200)).body as {
      question: string;
    }[];
    expect(found.map(({ question }) => question)).toEqual(['Which of two goes further, no. 4711']);
    expect((await server.api.get('/api/trials').query({ text: '%', limit: 50 }).expect(200)).body).toEqual([]);
    const firstArchived = seen.findIndex(({ archivedAt }) => archivedAt !== null);
    expect(seen.slice(firstArchived).every(({ archivedAt }) => archivedAt !== null)).toBe(true);
  });
});
