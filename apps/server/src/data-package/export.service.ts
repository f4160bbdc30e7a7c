import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { Writable } from 'node:stream';
import { Clock } from '../common/clock.js';
import { VERSION } from '../common/config.js';
import { KNEX } from '../database/database.module.js';
import { RunExportService } from '../runs/run-export.service.js';
import { DerivedTables } from './derived-tables.js';
import {
  derivedResource,
  DESCRIPTOR,
  descriptorText,
  FILES,
  README,
  README_TEXT,
  tablePath,
  tableResource,
} from './package-descriptor.js';
import { csvOf, exactLine, PackageWriter } from './package-writer.js';
import { keyText, selectRows, type Selection, type Wanted } from './selection.js';
import { fileColumnOf, quoted, readCatalog, textOf, type Table } from './table-catalog.js';
import { OWN_SETTINGS } from './table-words.js';

export interface ExportOptions extends Wanted {
  /** Cleaned channels of each log too. */
  readonly channels: 'csv' | 'parquet' | 'none';
}
export interface Watching {
  /** Of how many files are how many written; looked at now and then. */
  readonly follow?: (writer: Pick<PackageWriter, 'plannedCount' | 'written'>) => void;
  readonly signal?: AbortSignal;
}
type TextRow = Record<string, string | null>;

const ROWS_PER_PIECE = 200;

/** Writes data packages: one snapshot of the database, streamed. */
@Injectable()
export class ExportService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly runExport: RunExportService,
    private readonly derived: DerivedTables,
    private readonly clock: Clock,
  ) {}

  /** Fails before anything is written: `not-found` for a trial or run that is not there. */
  async prepare(options: ExportOptions): Promise<(output: Writable, watching?: Watching) => Promise<void>> {
    const tables = await readCatalog(this.database);
    await selectRows(this.database, tables, options);
    return (output, watching = {}) => this.write(output, tables, options, watching);
  }

  private async write(
    output: Writable,
    tables: readonly Table[],
    options: ExportOptions,
    { follow, signal }: Watching,
  ): Promise<void> {
    await this.database.transaction(
      async (snapshot) => {
        const selection = await selectRows(snapshot, tables, options);
        const writer = new PackageWriter();
        for (const table of tables) writer.add(tablePath(table.name), () => this.rows(snapshot, table, selection));
        for (const table of tables) await this.addFiles(writer, snapshot, table, selection);
        if (options.channels !== 'none')
          for (const [runId, logId] of await this.logsOf(snapshot, selection))
            writer.add(`channels/${logId}.${options.channels}`, () => this.channels(runId, options.channels));
        const derived = await this.derived.of(selection, options.trialId);
        for (const { path, fields, rows } of derived)
          writer.add(path, () =>
            csvOf(
              fields.map(({ name }) => name),
              rows(),
            ),
          );
        const readme = README_TEXT;
        writer.add(README, () => once(readme));
        // These two tell of all that was written before them.
        writer.add(FILES, () => once(filesTable(writer, tables)));
        writer.add(DESCRIPTOR, () => once(this.descriptor(writer, tables, derived, options, schema)));
        const schema = await lastMigration(snapshot);
        follow?.(writer);
        await writer.writeTo(output, signal);
      },
      { isolationLevel: 'repeatable read', readOnly: true },
    );
  }

  private async *channels(runId: string, as: ExportOptions['channels']): AsyncGenerator<string | Uint8Array> {
    yield* as === 'parquet' ? await this.runExport.parquetChannels(runId) : await this.runExport.channels(runId);
  }

  private async *rows(snapshot: Knex, table: Table, selection: Selection): AsyncGenerator<string> {
    yield exactLine(table.columns.map(({ name }) => name));
    const file = fileColumnOf(table.name);
    for await (const rows of this.batches(snapshot, table, selection))
      yield rows
        .map((row) =>
          exactLine(
            table.columns.map(({ name, type }) =>
              type === 'file' && file ? filePath(file.folder, row) : (row[name] ?? null),
            ),
          ),
        )
        .join('');
  }

  /** All chosen rows as text, some at a time, in the order of their keys. */
  private async *batches(snapshot: Knex, table: Table, selection: Selection): AsyncGenerator<TextRow[]> {
    const columns = table.columns.map(textOf).join(', ');
    const order = table.key.length > 0 ? table.key.map(quoted).join(', ') : 'ctid';
    const where = table.name === 'setting' ? `where not (key = any(?))` : '';
    const cursor = `"package ${table.name}"`;
    await snapshot.raw(
      `declare ${cursor} no scroll cursor for select ${columns} from ${quoted(table.name)} ${where} order by ${order}`,
      where === '' ? [] : [[...OWN_SETTINGS]],
    );
    for (;;) {
      const { rows } = await snapshot.raw<{ rows: TextRow[] }>(`fetch ${ROWS_PER_PIECE} from ${cursor}`);
      if (rows.length === 0) break;
      const chosen = rows.filter((row) => isChosen(table, row, selection));
      if (chosen.length > 0) yield chosen;
    }
    await snapshot.raw(`close ${cursor}`);
  }

  private async addFiles(writer: PackageWriter, snapshot: Knex, table: Table, selection: Selection): Promise<void> {
    const file = fileColumnOf(table.name);
    if (!file) return;
    const isPhoto = table.name === 'photo';
    for await (const rows of this.batches(snapshot, table, selection))
      for (const row of rows) {
        const path = filePath(file.folder, row);
        // Of the row no more is kept until its turn comes: there may be a hundred thousand.
        const { id } = row;
        writer.add(
          path,
          async function* () {
            const found: unknown = await snapshot(table.name).where({ id }).first(file.column);
            yield (found as Record<string, Buffer>)[file.column]!;
          },
          isPhoto,
        );
      }
  }

  /** One run of each chosen log, by which its channels are found. */
  private async logsOf(snapshot: Knex, selection: Selection): Promise<[runId: string, logId: string][]> {
    const rows = await snapshot('run')
      .distinctOn('log_id')
      .select<{ id: string; log_id: string }[]>('id', 'log_id')
      .orderBy('log_id');
    return rows
      .filter(({ id }) => selection === undefined || selection.get('run')?.has(keyText([id])))
      .map(({ id, log_id: logId }) => [id, logId]);
  }

  private descriptor(
    { written }: PackageWriter,
    tables: readonly Table[],
    derived: Awaited<ReturnType<DerivedTables['of']>>,
    options: ExportOptions,
    schema: string,
  ): string {
    const fileOf = new Map(written.map((file) => [file.path, file]));
    const resources = [
      ...tables.map((table) => tableResource(table, fileOf.get(tablePath(table.name))!)),
      ...derived.map(({ path, name, description, fields }) =>
        derivedResource(name, description, fields, fileOf.get(path)!),
      ),
      derivedResource(
        'files',
        'Every other file of the package with its size and SHA-256.',
        [
          { name: 'path', type: 'string' },
          { name: 'bytes', type: 'integer' },
          { name: 'sha256', type: 'string' },
        ],
        fileOf.get(FILES)!,
      ),
    ];
    const of = options.trialId ? 'one trial' : options.runIds ? 'some runs' : 'everything';
    return descriptorText(resources, { version: VERSION, schema, of, created: this.clock.now() });
  }
}

/** Where the bytes of a row lie in a package. */
export function filePath(folder: string, row: TextRow): string {
  const ending = folder === 'photos' ? 'jpg' : (/\.([A-Za-z0-9]{1,6})$/.exec(row['file_name'] ?? '')?.[1] ?? 'bin');
  return `${folder}/${row['id']!}.${ending.toLowerCase()}`;
}

function isChosen(table: Table, row: TextRow, selection: Selection): boolean {
  if (selection === undefined) return true;
  if (table.name === 'setting' || table.name === 'money_book') return true;
  if (table.key.length > 0)
    return selection.get(table.name)?.has(keyText(table.key.map((column) => row[column]))) ?? false;
  return table.references.some(
    ({ isOwned, columns, table: target }) =>
      isOwned && selection.get(target)?.has(keyText(columns.map((column) => row[column]))),
  );
}

function filesTable({ written }: PackageWriter, tables: readonly Table[]): string {
  const ofTables = new Set(tables.map(({ name }) => tablePath(name)));
  return [
    exactLine(['path', 'bytes', 'sha256']),
    ...written
      .filter(({ path }) => !ofTables.has(path) && !path.startsWith('derived/'))
      .map(({ path, bytes, sha256 }) => exactLine([path, String(bytes), sha256])),
  ].join('');
}

async function* once(text: string): AsyncGenerator<string> {
  yield await Promise.resolve(text);
}

export async function lastMigration(database: Knex): Promise<string> {
  const row: unknown = await database('knex_migrations').orderBy('id', 'desc').first('name');
  return (row as { name: string }).name;
}
