import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import { partInputSchemas, type Part, type PartInput, type PartKind } from '@ebrix/contract';
import { iso, isoOrNull, toColumnName } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import { deleteSeen } from '../database/delete-seen.js';

const TABLE = {
  bikes: 'bike',
  kits: 'kit',
  packs: 'pack',
  chargers: 'charger',
  'add-ons': 'add_on',
  limits: 'limit_profile',
  riders: 'rider',
  loggers: 'logger',
} as const satisfies Record<PartKind, string>;

type Row = Record<string, unknown> & { id: string; version: number; updated_at: Date; archived_at: Date | null };

/** Bikes, kits, packs and the rest: alike in all but their fields, which the contract lists. */
@Injectable()
export class PartsRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list<K extends PartKind>(kind: K, transaction: Knex = this.database): Promise<Part<K>[]> {
    const rows = await transaction<Row>(TABLE[kind])
      .select(columnsOf(kind))
      .orderByRaw('archived_at is not null, lower(name)');
    return rows.map((row) => toPart(kind, row as Row));
  }

  async find<K extends PartKind>(kind: K, id: string, transaction: Knex = this.database): Promise<Part<K> | undefined> {
    const row = await transaction<Row>(TABLE[kind]).select(columnsOf(kind)).where({ id }).first();
    return row && toPart(kind, row as Row);
  }

  async insert<K extends PartKind>(kind: K, input: PartInput<K>, transaction: Knex = this.database): Promise<Part<K>> {
    const rows: Row[] = await transaction(TABLE[kind])
      .insert({ id: uuidv7(), ...toRow(input) })
      .returning(columnsOf(kind));
    return toPart(kind, rows[0]!);
  }

  /** Undefined when the version is no longer the stored one. */
  async update<K extends PartKind>(
    kind: K,
    id: string,
    version: number,
    change: PartInput<K> | { archived: boolean },
    transaction: Knex = this.database,
  ): Promise<Part<K> | undefined> {
    const values =
      'archived' in change ? { archived_at: change.archived ? this.database.fn.now() : null } : toRow(change);
    const rows: Row[] = await transaction(TABLE[kind])
      .where({ id, version })
      .update({ ...values, version: version + 1, updated_at: this.database.fn.now() })
      .returning(columnsOf(kind));
    return rows[0] && toPart(kind, rows[0]);
  }

  delete(kind: PartKind, id: string, version: number | undefined): Promise<number> {
    return deleteSeen(this.database, TABLE[kind], id, version);
  }
}

function columnsOf(kind: PartKind): string[] {
  return ['id', 'version', 'updated_at', 'archived_at', ...Object.keys(partInputSchemas[kind].shape).map(toColumnName)];
}

function toRow(input: object): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(input).map(([field, value]: [string, unknown]) => [
      toColumnName(field),
      // Lists and nested things are jsonb; the driver would make a PostgreSQL array of a list.
      typeof value === 'object' && value !== null ? JSON.stringify(value) : value,
    ]),
  );
}

function toPart<K extends PartKind>(kind: K, row: Row): Part<K> {
  const fields = Object.keys(partInputSchemas[kind].shape).map((field) => [field, row[toColumnName(field)]]);
  return {
    id: row.id,
    version: row.version,
    updatedAt: iso(row.updated_at),
    archivedAt: isoOrNull(row.archived_at),
    ...Object.fromEntries(fields),
  } as Part<K>;
}
