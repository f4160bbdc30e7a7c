import type { Knex } from 'knex';
import { notFound } from '../common/domain-error.js';
import { isOneOf, quoted, type Table } from './table-catalog.js';

/** Keys of the rows that go into a package, by table; undefined: all of them. */
export type Selection = ReadonlyMap<string, ReadonlySet<string>> | undefined;

/** What a package is of: everything, one trial, or some runs. */
export interface Wanted {
  readonly trialId?: string;
  readonly runIds?: readonly string[];
}

/** The key of a row as one text. */
export function keyText(values: readonly unknown[]): string {
  return JSON.stringify(
    values.map((value) => (value === null || value === undefined ? null : String(value as string | number))),
  );
}

/**
 * A trial with its runs, or some runs, and all that they stand on: what a row refers to comes with it, and what belongs to a row
 * (its figures, its marks, its photos). Fails: `not-found`.
 */
export async function selectRows(database: Knex, tables: readonly Table[], wanted: Wanted): Promise<Selection> {
  const { trialId, runIds } = wanted;
  if (trialId === undefined && runIds === undefined) return undefined;
  const chosen = new Map<string, Set<string>>();
  const queue: { table: Table; key: unknown[] }[] = [];
  const tableOf = (name: string): Table | undefined => tables.find((table) => table.name === name);
  const add = (name: string, key: unknown[]): void => {
    const table = tableOf(name);
    if (!table || key.some((part) => part === null)) return;
    const own = chosen.get(name) ?? new Set<string>();
    chosen.set(name, own);
    const text = keyText(key);
    if (own.has(text)) return;
    own.add(text);
    queue.push({ table, key });
  };
  if (trialId !== undefined) {
    const found: unknown[] = await database('trial').where({ id: trialId }).select('id');
    if (found.length === 0) throw notFound('This trial');
    add('trial', [trialId]);
    const { rows } = await database.raw<{ rows: { id: string }[] }>(
      `select r.id from run r join trial t on t.id = ? where r.setup_revision_id in
         (select revision_id from trial_setup where trial_id = t.id) and (t.course_id is null or t.course_id = r.course_id)`,
      [trialId],
    );
    for (const { id } of rows) add('run', [id]);
  }
  for (const id of runIds ?? []) {
    const found: unknown[] = await database('run').where({ id }).select('id');
    if (found.length === 0) throw notFound('One of these runs');
    add('run', [id]);
  }
  while (queue.length > 0) {
    const batch = queue.splice(0);
    for (const table of new Set(batch.map((one) => one.table))) {
      const keys = batch.filter((one) => one.table === table).map(({ key }) => key);
      await addReferred(database, table, keys, add);
      for (const other of tables)
        for (const { table: target, columns, isOwned, target: targetColumns } of other.references)
          if (isOwned && target === table.name && other.key.length > 0)
            await addOwned(database, other, columns, keys, targetColumns.length, add);
    }
  }
  return chosen;
}

async function addReferred(
  database: Knex,
  table: Table,
  keys: readonly unknown[][],
  add: (name: string, key: unknown[]) => void,
): Promise<void> {
  const columns = [...new Set(table.references.flatMap(({ columns: own }) => own))];
  if (columns.length === 0) return;
  for (const row of await rowsByKey(database, table, table.key, keys, columns))
    for (const { columns: own, table: target } of table.references)
      add(
        target,
        own.map((column) => row[column]),
      );
}

async function addOwned(
  database: Knex,
  table: Table,
  columns: readonly string[],
  keys: readonly unknown[][],
  width: number,
  add: (name: string, key: unknown[]) => void,
): Promise<void> {
  const parents = keys.filter((key) => key.length === width);
  for (const row of await rowsByKey(database, table, columns, parents, table.key))
    add(
      table.name,
      table.key.map((column) => row[column]),
    );
}

const BATCH = 500;
async function rowsByKey(
  database: Knex,
  table: Table,
  by: readonly string[],
  keys: readonly unknown[][],
  wanted: readonly string[],
): Promise<Record<string, unknown>[]> {
  const found: Record<string, unknown>[] = [];
  for (let from = 0; from < keys.length; from += BATCH) {
    const batch = keys.slice(from, from + BATCH);
    const { rows } = await database.raw<{ rows: Record<string, unknown>[] }>(
      `select ${wanted.map(quoted).join(', ')} from ${quoted(table.name)} where ${isOneOf(table, by, batch.length)}`,
      batch.flat().map(String),
    );
    found.push(...rows);
  }
  return found;
}
