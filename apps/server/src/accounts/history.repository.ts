import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { ROUTES, type HistoryEntry, type Route } from '@ebrix/contract';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import type { Who } from './account.repository.js';

const PAGE = 100;

/** Who did what. Rows are only added: the database refuses anything else. */
@Injectable()
export class HistoryRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async add(who: Who | undefined, operation: string, objects: readonly (string | null)[]): Promise<void> {
    await this.database('history_entry').insert(
      objects.map((id) => ({ account_id: who?.id ?? null, who: who?.name ?? '', operation, object_id: id })),
    );
  }

  async page(objects: readonly string[] | undefined, before: number | undefined): Promise<HistoryEntry[]> {
    const rows = (await this.database('history_entry')
      .select('id', 'at', 'who', 'operation', 'object_id')
      .modify((query) => {
        if (objects !== undefined) void query.whereIn('object_id', objects);
        if (before !== undefined) void query.where('id', '<', before);
      })
      .orderBy('id', 'desc')
      .limit(PAGE)) as { id: string; at: Date; who: string; operation: string; object_id: string | null }[];
    return rows.map(({ id, at, who, operation, object_id: object }) => ({
      id: Number(id),
      at: iso(at),
      who,
      operation,
      summary: (ROUTES as Readonly<Record<string, Route>>)[operation]?.summary ?? operation,
      objectId: object,
    }));
  }
}
