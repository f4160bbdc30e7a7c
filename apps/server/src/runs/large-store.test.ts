import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { RunListPage, RunSummary } from '@ebrix/contract';
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
const pageOf = async (query: object): Promise<RunListPage> =>
  (await server.api.get('/api/runs').query(query).expect(200)).body as RunListPage;
/** A place as a list names it. */
const placed = (key: string | null): string =>
  Buffer.from(JSON.stringify([key, '01a230a8-161d-7537-ac7a-b9ee9d715130'])).toString('base64url');

describe('a store of 100 000 runs', () => {
  it.each([
    'runs',
    'runs?order=up',
    'runs?sort=netConsumption&order=up',
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
  it.each([
    ['day', {}],
    ['figure', { sort: 'netConsumption', order: 'up' }],
    ['setup', { sort: 'setup', order: 'up' }],
    ['course', { sort: 'course' }],
    ['file', { sort: 'file' }],
  ])('goes on and back by %s without going through a large table', async (_, sorted) => {
    // From the middle of the store: its first pages are cheap in any way.
    const { next } = await pageOf({ ...sorted, setup: await idOf('setup', { name: 'Fit 25' }) });
    const query = new URLSearchParams({ ...sorted, after: next! }).toString();
    expect(await scannedBy(`runs?${query}`)).toEqual([]);
    expect(await scannedBy(`runs?${query.replace('after', 'before')}`)).toEqual([]);
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

  it('is listed the same forwards and back, page after page, each run once', async () => {
    const key = ({ outing, id }: RunSummary): string => `${outing.date} ${id}`;
    const setup = await idOf('setup', { name: 'Fit 8' });
    for (const order of ['up', 'down'] as const) {
      const asked = { setup, order, pageSize: 30 };
      const seen: RunSummary[] = [];
      let [list, forwards] = [await pageOf(asked), 0];
      const { total } = list;
      for (; list.next !== null; forwards++) {
        seen.push(...list.items);
        list = await pageOf({ ...asked, after: list.next });
      }
      seen.push(...list.items);
      expect(forwards).toBe(Math.ceil(total / 30) - 1);
      expect(seen).toHaveLength(total);
      const keys = seen.map(key);
      expect(keys).toEqual(order === 'up' ? keys.toSorted() : keys.toSorted().reverse());
      expect(new Set(keys).size).toBe(total);
      // And back: each page is whole, and as it was.
      for (let end = total - list.items.length; end > 0; end -= 30) {
        list = await pageOf({ ...asked, before: list.previous! });
        expect(list.items.map(key)).toEqual(keys.slice(end - 30, end));
      }
      expect(list.previous).toBeNull();
    }
  });

  it('is sorted by a figure with those that lack it at the end, forwards and back, and none twice', async () => {
    // Of one outing, of which a few have no consumption.
    const outing = await idOf('outing', { title: 'Day 200' });
    const some = await knex('run')
      .where({ outing_id: outing })
      .whereNull('deleted_at')
      .limit(15)
      .select<{ id: string }[]>('id');
    await knex('figure')
      .whereIn(
        'run_id',
        some.map(({ id }) => id),
      )
      .where({ key: 'netConsumption' })
      .delete();
    const asked = { outing, sort: 'netConsumption', order: 'up', pageSize: 7 };
    const pages = [await pageOf(asked)];
    while (pages.at(-1)!.next !== null) pages.push(await pageOf({ ...asked, after: pages.at(-1)!.next! }));
    const all = pages.flatMap(({ items }) => items);
    expect(new Set(all.map(({ id }) => id)).size).toBe(pages[0]!.total);
    expect(all).toHaveLength(pages[0]!.total);
    const values = all.map(({ figures }) => figures.netConsumption?.value ?? Infinity);
    expect(values).toEqual(values.toSorted((a, b) => a - b));
    expect(values.filter((value) => value === Infinity)).toHaveLength(15);
    // Through those that lack it into those that have it, to the first page, which is full.
    let [back, at] = [pages.at(-1)!, pages.length - 1];
    for (; back.previous !== null; at--) {
      back = await pageOf({ ...asked, before: back.previous });
      expect(back.items).toEqual(pages[at - 1]!.items);
    }
    expect([at, back.items.length]).toEqual([0, 7]);
  });

  it('goes on from where a page ended, whatever was deleted or came before it', async () => {
    const outing = await idOf('outing', { title: 'Day 300' });
    const asked = { outing, sort: 'setup', order: 'up', pageSize: 10 };
    const first = await pageOf(asked);
    const second = await pageOf({ ...asked, after: first.next! });
    await server.api
      .post('/api/runs/delete')
      .send({ runIds: [first.items[3]!.id, first.items[9]!.id] })
      .expect(({ status }) => expect(status).toBeLessThan(300));
    expect((await pageOf({ ...asked, after: first.next! })).items).toEqual(second.items);
    const back = await pageOf({ ...asked, before: second.previous! });
    // Eight are left before it: that is the first page.
    expect(back.previous).toBeNull();
    expect(back.items).toHaveLength(10);
  });

  it.each([
    ['a place that is none', { after: 'x' }],
    ['a place of a list sorted otherwise', { after: Buffer.from('["Fit",1]').toString('base64url') }],
    ['a text for a day', { before: placed('Fit 7') }],
    ['a day that is none', { after: placed('2026-13-40') }],
    ['a text for a figure', { sort: 'distance', after: placed('much') }],
    ['nothing for a name', { sort: 'setup', after: placed(null) }],
    ['what no text holds', { sort: 'file', after: placed('\0') }],
  ])('refuses %s', async (_, query) => {
    const { body } = await server.api.get('/api/runs').query(query).expect(400);
    expect(JSON.stringify(body)).toMatch(/first page/);
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
