import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import { useSchema, type UseDto, type UseInput } from '@ebrix/contract';
import { iso, isoOrNull } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import { deleteSeen } from '../database/delete-seen.js';

interface UseRow {
  id: string;
  name: string;
  notes: string;
  criteria: unknown;
  must_haves: unknown;
  version: number;
  updated_at: Date;
  archived_at: Date | null;
}

/** Uses as the tester has written them. */
@Injectable()
export class UseRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(id?: string): Promise<UseDto[]> {
    const rows = await this.database<UseRow>('intended_use')
      .where(id === undefined ? {} : { id })
      .orderByRaw('archived_at is not null, lower(name)');
    return rows.map((row) =>
      useSchema.parse({
        id: row.id,
        name: row.name,
        notes: row.notes,
        criteria: row.criteria,
        mustHaves: row.must_haves,
        version: row.version,
        updatedAt: iso(row.updated_at),
        archivedAt: isoOrNull(row.archived_at),
      }),
    );
  }

  async hasName(name: string, exceptId?: string): Promise<boolean> {
    const query = this.database('intended_use').whereRaw('lower(name) = lower(?)', [name]).whereNull('archived_at');
    if (exceptId !== undefined) void query.whereNot({ id: exceptId });
    return ((await query.first('id')) as unknown) !== undefined;
  }

  async insert(input: UseInput): Promise<string> {
    const id = uuidv7();
    await this.database('intended_use').insert({ id, ...toRow(input) });
    return id;
  }

  /** False when another window stored meanwhile. */
  async update(id: string, version: number, change: UseInput | { archived: boolean }): Promise<boolean> {
    const values =
      'archived' in change ? { archived_at: change.archived ? this.database.fn.now() : null } : toRow(change);
    const count = await this.database('intended_use')
      .where({ id, version })
      .update({ ...values, version: version + 1, updated_at: this.database.fn.now() });
    return count > 0;
  }

  delete(id: string, version: number | undefined): Promise<number> {
    return deleteSeen(this.database, 'intended_use', id, version);
  }
}

function toRow({ name, notes, criteria, mustHaves }: UseInput): object {
  return { name, notes, criteria: JSON.stringify(criteria), must_haves: JSON.stringify(mustHaves) };
}
