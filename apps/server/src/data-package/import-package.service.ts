import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { Knex } from 'knex';
import { rm } from 'node:fs/promises';
import { v7 as uuidv7 } from 'uuid';
import type { LogMapping } from '@ebrix/core/logs';
import type { PackageImported, PackageLook } from '@ebrix/contract';
import { DomainError, notFound } from '../common/domain-error.js';
import { JobPool } from '../compute/compute-pool.js';
import { KNEX } from '../database/database.module.js';
import { LogRepository } from '../runs/log.repository.js';
import { readCell } from './cells.js';
import { lastMigration } from './export.service.js';
import { PackageReader, refuse } from './package-reader.js';
import { keyText } from './selection.js';
import {
  fileColumnOf,
  isOneOf,
  quoted,
  readCatalog,
  textOf,
  valueOf,
  type Column,
  type Table,
} from './table-catalog.js';
import { tablePath } from './package-descriptor.js';
import { OWN_SETTINGS } from './table-words.js';

type Row = Record<string, string | null>;
interface Staged {
  readonly path: string;
  readonly look: PackageLook;
}
/** One row of a package beside the same row here. */
interface Compared {
  readonly row: Row;
  readonly here: Row | undefined;
}

const BATCH = 200;
/** More differences than this nobody looks through one by one. */
const DIFFERENCES_SHOWN = 300;
const PACKAGES_KEPT = 4;

/** Looks through data packages and takes them in: all or nothing, and nothing that is here is changed unseen. */
@Injectable()
export class ImportPackageService implements OnApplicationShutdown {
  private readonly staged = new Map<string, Staged>();

  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly logs: LogRepository,
    private readonly pool: JobPool,
  ) {}

  async onApplicationShutdown(): Promise<void> {
    for (const id of [...this.staged.keys()]) await this.drop(id);
  }

  /** Checks a package from end to end and says what it would bring. The file is kept until it is taken in or dropped. Fails: `cannot-read`. */
  async look(path: string): Promise<PackageLook> {
    try {
      const look = await this.withReader(path, (reader, tables) => this.lookThrough(reader, tables));
      while (this.staged.size >= PACKAGES_KEPT) await this.drop([...this.staged.keys()][0]!);
      this.staged.set(look.id, { path, look });
      return look;
    } catch (error) {
      await rm(path, { force: true });
      throw error;
    }
  }

  async drop(id: string): Promise<void> {
    const found = this.staged.get(id);
    if (!found) throw notFound('This package');
    this.staged.delete(id);
    await rm(found.path, { force: true });
  }

  /** One transaction: new rows are added; of those that differ, the ones named take the package's values. */
  async takeIn(
    id: string,
    take: readonly { readonly table: string; readonly key: string }[],
  ): Promise<PackageImported> {
    const found = this.staged.get(id);
    if (!found) throw notFound('This package');
    const wanted = new Set(take.map(({ table, key }) => `${table} ${key}`));
    const imported = await this.withReader(found.path, (reader, tables) =>
      this.database.transaction(async (transaction) => {
        const counts = { added: 0, changed: 0, kept: 0, same: 0 };
        for (const { table, resource } of tables)
          for await (const batch of this.compared(reader, table, resource, transaction))
            await this.store(reader, table, batch, wanted, counts, transaction);
        await this.cleanLogs(transaction);
        return counts;
      }),
    ).catch((error: unknown) => {
      throw explained(error);
    });
    await this.drop(id);
    return imported;
  }

  private async withReader<T>(
    path: string,
    work: (reader: PackageReader, tables: readonly TableOfPackage[]) => Promise<T>,
  ): Promise<T> {
    const reader = await PackageReader.open(path);
    try {
      const catalog = await readCatalog(this.database);
      const { schema, version } = reader.descriptor.ebrix;
      const own = await lastMigration(this.database);
      if (schema > own)
        throw refuse(`The package was made by a later version of Ebrix (${version}, ${schema}). Update Ebrix first.`);
      return await work(reader, tablesOf(reader, catalog));
    } finally {
      reader.close();
    }
  }

  private async lookThrough(reader: PackageReader, tables: readonly TableOfPackage[]): Promise<PackageLook> {
    const { created, ebrix } = reader.descriptor;
    const differences: PackageLook['differences'][number][] = [];
    const counts: PackageLook['tables'][number][] = [];
    let undrawn = 0;
    for (const { table, resource } of tables) {
      const count = { name: table.name, added: 0, same: 0, different: 0 };
      for await (const batch of this.compared(reader, table, resource, this.database))
        for (const { row, here } of batch) {
          const columns = here
            ? table.columns.filter(({ name, type }) => type !== 'file' && row[name] !== here[name])
            : [];
          if (!here) count.added++;
          else if (columns.length === 0) count.same++;
          else {
            count.different++;
            if (differences.length >= DIFFERENCES_SHOWN) undrawn++;
            else differences.push(differenceOf(table, row, here, columns));
          }
        }
      counts.push(count);
    }
    return {
      id: uuidv7(),
      made: created,
      of: ebrix.of,
      version: ebrix.version,
      tables: counts,
      differences,
      moreDifferences: undrawn,
    };
  }

  /** Rows of a table, some at a time, each beside what is here under the same key. Fails: `cannot-read` with table and line. */
  private async *compared(
    reader: PackageReader,
    table: Table,
    resource: PackageReader['tables'][number],
    database: Knex,
  ): AsyncGenerator<Compared[]> {
    const columns = columnsOf(table, resource);
    let batch: Row[] = [];
    const seen = new Set<string>();
    for await (const { line, cells } of reader.rows(resource)) {
      const row: Row = {};
      for (const column of columns) {
        const value = readCell(column, cells[column.name]!);
        if (value === undefined)
          throw refuse(
            `${resource.path}, row ${line}: “${cells[column.name]!.slice(0, 60)}” is no ${column.type} for ${column.name}.`,
          );
        row[column.name] = value;
      }
      if (table.name === 'setting' && OWN_SETTINGS.includes(row['key']!)) continue;
      const key = keyOf(table, row);
      if (table.key.length > 0 && seen.has(key)) throw refuse(`${resource.path}, row ${line}: the same key twice.`);
      seen.add(key);
      batch.push(row);
      if (batch.length < BATCH) continue;
      yield await this.beside(table, columns, batch, database);
      batch = [];
    }
    if (batch.length > 0) yield await this.beside(table, columns, batch, database);
  }

  private async beside(
    table: Table,
    columns: readonly Column[],
    batch: readonly Row[],
    database: Knex,
  ): Promise<Compared[]> {
    // Rows without a key of their own come with what they belong to.
    const by = table.key.length > 0 ? table.key : table.references.find(({ isOwned }) => isOwned)!.columns;
    const known = columns.filter(({ type }) => type !== 'file');
    const { rows } = await database.raw<{ rows: Row[] }>(
      `select ${known.map(textOf).join(', ')} from ${quoted(table.name)}
       where ${isOneOf(table, by, batch.length)}`,
      batch.flatMap((row) => by.map((column) => row[column]!)),
    );
    const here = new Map(rows.map((row) => [keyText(by.map((column) => row[column])), row]));
    return batch.map((row) => {
      const found = here.get(keyText(by.map((column) => row[column])));
      return { row: normalised(row, columns), here: found && normalised(table.key.length > 0 ? found : row, columns) };
    });
  }

  private async store(
    reader: PackageReader,
    table: Table,
    batch: readonly Compared[],
    wanted: ReadonlySet<string>,
    counts: { added: number; changed: number; kept: number; same: number },
    transaction: Knex,
  ): Promise<void> {
    const added: Row[] = [];
    for (const { row, here } of batch) {
      if (!here) added.push(row);
      else if (Object.keys(row).every((name) => row[name] === here[name] || isFile(table, name))) counts.same++;
      else if (wanted.has(`${table.name} ${keyOf(table, row)}`)) {
        await update(table, row, transaction);
        counts.changed++;
      } else counts.kept++;
    }
    // One at a time where files come along: a log may be a hundred megabytes.
    const size = fileColumnOf(table.name) ? 1 : BATCH;
    for (let from = 0; from < added.length; from += size)
      await this.insert(reader, table, added.slice(from, from + size), transaction);
    counts.added += added.length;
  }

  private async insert(reader: PackageReader, table: Table, rows: readonly Row[], transaction: Knex): Promise<void> {
    const columns = table.columns.filter(({ name }) => rows[0]![name] !== undefined);
    const file = fileColumnOf(table.name);
    const bindings: (Buffer | string | null)[] = [];
    for (const row of rows)
      for (const { name } of columns)
        bindings.push(file && name === file.column ? await this.fileOf(reader, table, row) : row[name]!);
    const places = rows.map(() => `(${columns.map(valueOf).join(', ')})`).join(', ');
    await transaction.raw(
      `insert into ${quoted(table.name)} (${columns.map(({ name }) => quoted(name)).join(', ')}) values ${places}`,
      bindings as never,
    );
  }

  private async fileOf(reader: PackageReader, table: Table, row: Row): Promise<Buffer> {
    const { column } = fileColumnOf(table.name)!;
    const path = row[column]!;
    if (table.name === 'log' && reader.files.get(path) !== row['sha256'])
      throw refuse(`${path} is not the log that ${tablePath('log')} names: its SHA-256 differs.`);
    return reader.file(path);
  }

  /** Channels are no part of a package: they are made of the raw logs again, in the same transaction. */
  private async cleanLogs(transaction: Knex): Promise<void> {
    const rows = await transaction('log as l')
      .whereNotExists(transaction('channel as c').whereRaw('c.log_id = l.id').select(transaction.raw('1')))
      .where('l.sample_count', '>', 0)
      .select<{ id: string }[]>('l.id');
    for (const { id } of rows) {
      const log = await this.logs.file(id, transaction);
      if (!log) continue;
      const outcome = await this.pool.run('readRide', {
        bytes: log.bytes,
        mapping: log.mapping as LogMapping | null,
        runs: [],
      });
      if (!outcome.ok) throw refuse(`The log ${log.fileName} cannot be read again: ${outcome.problem.message}`);
      await this.logs.insertChannels(id, outcome.value.channels, transaction);
    }
  }
}

interface TableOfPackage {
  readonly table: Table;
  readonly resource: PackageReader['tables'][number];
}
/** Tables of the package in the order in which they go in. Fails: `cannot-read` for tables and columns that are not known. */
function tablesOf(reader: PackageReader, catalog: readonly Table[]): TableOfPackage[] {
  for (const resource of reader.tables) {
    const table = catalog.find(({ name }) => tablePath(name) === resource.path);
    if (!table) throw refuse(`The package holds a table that Ebrix does not have: ${resource.path}.`);
    columnsOf(table, resource);
  }
  return catalog.flatMap((table) => {
    const resource = reader.tables.find(({ path }) => path === tablePath(table.name));
    return resource ? [{ table, resource }] : [];
  });
}

function columnsOf(table: Table, { path, schema }: TableOfPackage['resource']): Column[] {
  const fields = schema?.fields.map(({ name }) => name) ?? [];
  for (const name of fields)
    if (!table.columns.some((column) => column.name === name))
      throw refuse(`${path}: Ebrix does not know the column “${name.slice(0, 60)}”.`);
  for (const { name, isRequired, hasDefault } of table.columns)
    if (!fields.includes(name) && isRequired && !hasDefault) throw refuse(`${path}: the column ${name} is missing.`);
  return fields.map((name) => table.columns.find((column) => column.name === name)!);
}

function keyOf(table: Table, row: Row): string {
  return keyText(table.key.map((column) => row[column]));
}
const isFile = (table: Table, name: string): boolean => fileColumnOf(table.name)?.column === name;

/** JSON is compared as JSON, not as text. */
function normalised(row: Row, columns: readonly Column[]): Row {
  return Object.fromEntries(
    columns.map(({ name, type }) => {
      const text = row[name] ?? null;
      if (text === null) return [name, null];
      if (type === 'json' || type === 'array') return [name, canonical(JSON.parse(text))];
      return [name, type === 'number' ? String(Number(text)) : text];
    }),
  );
}
function canonical(value: unknown): string {
  return JSON.stringify(value, (_key, one: unknown) =>
    typeof one === 'object' && one !== null && !Array.isArray(one)
      ? Object.fromEntries(Object.entries(one).sort(([a], [b]) => (a < b ? -1 : 1)))
      : one,
  );
}

const NAMES = ['name', 'title', 'question', 'file_name', 'what', 'caption', 'key'] as const;
const MOST_CHARACTERS = 300;
function differenceOf(
  table: Table,
  row: Row,
  here: Row,
  columns: readonly Column[],
): PackageLook['differences'][number] {
  const short = (text: string | null): string | null =>
    text !== null && text.length > MOST_CHARACTERS ? `${text.slice(0, MOST_CHARACTERS)} …` : text;
  const name = NAMES.map((one) => here[one]).find((text) => text);
  return {
    table: table.name,
    key: keyOf(table, row),
    name: name ?? table.key.map((column) => row[column]).join(' '),
    columns: columns.map(({ name: column }) => ({ column, here: short(here[column]!), package: short(row[column]!) })),
  };
}

async function update(table: Table, row: Row, transaction: Knex): Promise<void> {
  const columns = table.columns.filter(
    ({ name }) => row[name] !== undefined && !table.key.includes(name) && !isFile(table, name),
  );
  const where = table.key.map((column) => `${quoted(column)}::text = ?`).join(' and ');
  await transaction.raw(
    `update ${quoted(table.name)} set ${columns.map((column) => `${quoted(column.name)} = ${valueOf(column)}`).join(', ')} where ${where}`,
    [...columns.map(({ name }) => row[name]!), ...table.key.map((column) => row[column]!)] as never,
  );
}

/** What the database refuses, in words: the same thing under another identity, or rows that do not fit each other. */
function explained(error: unknown): unknown {
  const { code, table, detail, constraint } = error as Record<
    'code' | 'table' | 'detail' | 'constraint',
    string | undefined
  >;
  if (code === '23505' && constraint?.endsWith('_pkey'))
    return new DomainError(
      'already-there',
      'What this package brings came in meanwhile from another window. Look at the package again; nothing was stored twice.',
    );
  const where = `${table ?? 'a table'}${detail ? `: ${detail}` : ''}`;
  if (code === '23505')
    return new DomainError(
      'already-there',
      `Something in the package is here already under another identity (${where}). Rename or delete it here, then take the package in. Nothing was stored.`,
    );
  if (code === '23503') return refuse(`Rows of the package refer to what is neither in it nor here (${where}).`);
  if (code?.startsWith('23') || code?.startsWith('22'))
    return refuse(`A value in the package is not possible (${where}).`);
  return error;
}
