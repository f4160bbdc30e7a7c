import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import { outingInputSchema, type Outing, type OutingInput } from '@ebrix/contract';
import { iso, isoOrNull, toColumnName } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import { deleteSeen } from '../database/delete-seen.js';

type Row = Record<string, unknown> & {
  id: string;
  version: number;
  updated_at: Date;
  archived_at: Date | null;
  run_count: number;
};
const FIELDS = Object.keys(outingInputSchema.shape);

@Injectable()
export class OutingRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(id?: string): Promise<Outing[]> {
    const rows = await this.database('outing as o')
      .select<Row[]>(
        ['id', 'version', 'updated_at', 'archived_at', ...FIELDS.map(toColumnName)].map((column) => `o.${column}`),
      )
      .select(
        this.database.raw(
          '(select count(*)::int from run where run.outing_id = o.id and run.deleted_at is null) as run_count',
        ),
      )
      .where(id === undefined ? {} : { 'o.id': id })
      .orderBy([
        { column: 'o.date', order: 'desc' },
        { column: 'o.id', order: 'desc' },
      ]);
    return (rows as unknown as Row[]).map(toOuting);
  }

  async insert(input: OutingInput, database: Knex = this.database): Promise<string> {
    const id = uuidv7();
    await database('outing').insert({ id, ...toRow(input) });
    return id;
  }

  async update(id: string, version: number, input: OutingInput, database: Knex = this.database): Promise<boolean> {
    const count = await database('outing')
      .where({ id, version })
      .update({ ...toRow(input), version: version + 1, updated_at: this.database.fn.now() });
    return count > 0;
  }

  delete(id: string, version: number | undefined): Promise<number> {
    return deleteSeen(this.database, 'outing', id, version);
  }
}

function toRow(input: OutingInput): Record<string, unknown> {
  return Object.fromEntries(Object.entries(input).map(([field, value]) => [toColumnName(field), value]));
}

function toOuting(row: Row): Outing {
  return {
    id: row.id,
    version: row.version,
    updatedAt: iso(row.updated_at),
    archivedAt: isoOrNull(row.archived_at),
    runCount: row.run_count,
    ...Object.fromEntries(FIELDS.map((field) => [field, row[toColumnName(field)]])),
  } as Outing;
}
