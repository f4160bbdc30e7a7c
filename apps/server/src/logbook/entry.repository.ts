import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { LifeEntry } from '@ebrix/core/life';
import type { EntryInput, LogEntry, Subject } from '@ebrix/contract';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';

export const SUBJECT_COLUMN = {
  setup: 'setup_id',
  bike: 'bike_id',
  conversion: 'conversion_id',
} as const satisfies Record<Subject['kind'], string>;
const SUBJECT_KINDS = Object.keys(SUBJECT_COLUMN) as Subject['kind'][];

interface SubjectColumns {
  setup_id: string | null;
  bike_id: string | null;
  conversion_id: string | null;
}
interface EntryRow extends SubjectColumns {
  id: string;
  version: number;
  day: string;
  odometer_km: number | null;
  cost_amount: number | null;
  cost_currency: string | null;
  written_by: string;
  source: string | null;
  details: LogEntry['details'];
  updated_at: Date;
  subject_name: string;
}
export interface EntriesAsked {
  readonly subject?: Subject | undefined;
  readonly kind?: string | undefined;
  readonly after?: { readonly day: string; readonly id: string } | undefined;
  readonly limit: number;
}

export function subjectOf(row: SubjectColumns): Subject {
  const kind = SUBJECT_KINDS.find((one) => row[SUBJECT_COLUMN[one]] !== null)!;
  return { kind, id: row[SUBJECT_COLUMN[kind]]! };
}

/** What was written down of bikes in use. Details were checked when they came in. */
@Injectable()
export class EntryRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async page({ subject, kind, after, limit }: EntriesAsked): Promise<LogEntry[]> {
    const query = this.select().orderByRaw('e.day desc, e.id desc').limit(limit);
    if (subject) void query.where({ [`e.${SUBJECT_COLUMN[subject.kind]}`]: subject.id });
    if (kind !== undefined) void query.where({ 'e.kind': kind });
    if (after) void query.whereRaw('(e.day, e.id) < (?, ?)', [after.day, after.id]);
    return ((await query) as EntryRow[]).map(toEntry);
  }

  async find(id: string): Promise<LogEntry | undefined> {
    const [row] = (await this.select().where({ 'e.id': id })) as EntryRow[];
    return row && toEntry(row);
  }

  /** Those that had come in before, by id or by source, are passed over. */
  async insert(entries: readonly EntryInput[], transaction: Knex.Transaction): Promise<number> {
    const inserted = await transaction('log_entry')
      .insert(entries.map((entry) => ({ id: entry.id, ...toRow(entry) })))
      .onConflict()
      .ignore()
      .returning('id');
    return inserted.length;
  }

  /** False when another window stored meanwhile. */
  async update(id: string, version: number, entry: Omit<EntryInput, 'id'>): Promise<boolean> {
    const count = await this.database('log_entry')
      .where({ id, version })
      .update({ ...toRow(entry), version: version + 1, updated_at: this.database.fn.now() });
    return count > 0;
  }

  async delete(id: string, version: number): Promise<boolean> {
    return (await this.database('log_entry').where({ id, version }).delete()) > 0;
  }

  /** All entries of some subjects of one kind, oldest day first; only what a life is worked out from. */
  async livesOf(kind: Subject['kind'], ids: readonly string[]): Promise<Map<string, StoredLifeEntry[]>> {
    const column = SUBJECT_COLUMN[kind];
    const rows = (await this.database('log_entry')
      .select(
        'id',
        `${column} as subject`,
        'day',
        'odometer_km',
        'cost_amount',
        'cost_currency',
        'written_by',
        'details',
      )
      .whereRaw(`${column} = any(?)`, [[...ids]])
      .orderBy(['day', 'id'])) as (EntryRow & { subject: string })[];
    const lives = new Map<string, StoredLifeEntry[]>();
    for (const row of rows) {
      const own = lives.get(row.subject) ?? [];
      own.push({
        id: row.id,
        day: row.day,
        odometerKm: row.odometer_km,
        details: row.details,
        by: row.written_by,
        cost: costOf(row),
      });
      lives.set(row.subject, own);
    }
    return lives;
  }

  /** By subject a mark that changes whenever its entries do. */
  async stamps(): Promise<Map<string, string>> {
    const rows = await this.database('logbook_change').select<{ subject: string; n: string }[]>('subject', 'n');
    return new Map(rows.map(({ subject, n }) => [subject, n]));
  }

  private select(): Knex.QueryBuilder {
    return this.database('log_entry as e')
      .leftJoin('setup as s', 's.id', 'e.setup_id')
      .leftJoin('bike as b', 'b.id', 'e.bike_id')
      .leftJoin('conversion as c', 'c.id', 'e.conversion_id')
      .select('e.*', this.database.raw('coalesce(s.name, b.name, c.name) as subject_name'));
  }
}

export interface StoredLifeEntry extends LifeEntry {
  readonly by: string;
  readonly cost: LogEntry['cost'];
}

function costOf(row: Pick<EntryRow, 'cost_amount' | 'cost_currency'>): LogEntry['cost'] {
  return row.cost_amount === null || row.cost_currency === null
    ? null
    : { amount: row.cost_amount, currency: row.cost_currency };
}

function toRow({ subject, day, odometerKm, cost, by, source, details }: Omit<EntryInput, 'id'>): object {
  return {
    setup_id: null,
    bike_id: null,
    conversion_id: null,
    [SUBJECT_COLUMN[subject.kind]]: subject.id,
    kind: details.kind,
    day,
    odometer_km: odometerKm,
    cost_amount: cost?.amount ?? null,
    cost_currency: cost?.currency ?? null,
    written_by: by,
    source,
    details: JSON.stringify(details),
  };
}

function toEntry(row: EntryRow): LogEntry {
  return {
    id: row.id,
    version: row.version,
    subject: subjectOf(row),
    subjectName: row.subject_name,
    day: row.day,
    odometerKm: row.odometer_km,
    cost: costOf(row),
    by: row.written_by,
    source: row.source,
    details: row.details,
    updatedAt: iso(row.updated_at),
  };
}
