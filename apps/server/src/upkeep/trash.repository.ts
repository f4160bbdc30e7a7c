import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { TrashEntry } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';

const KEPT_DAYS = 30;
const MOST_LISTED = 500;

/** What was deleted within the last month. The database's own triggers put it there, whoever deletes. */
@Injectable()
export class TrashRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(): Promise<TrashEntry[]> {
    const { rows } = await this.database.raw<{
      rows: { id: string; at: Date; kind: string; name: string | null; rows: number }[];
    }>(
      `select t.id, t.at, t.kind, first.name, (select count(*)::int from trash_row r where r.trash_id = t.id) as rows
       from trash t
       left join lateral (
         select coalesce(content->>'name', content->>'question', content->>'title', content->>'tester', content->>'symptom',
           concat_ws(' ', content->>'kind', content->>'day')) as name
         from trash_row r where r.trash_id = t.id order by n limit 1
       ) first on true
       order by t.at desc limit ?`,
      [MOST_LISTED],
    );
    return rows.map(({ id, at, kind, name, rows: count }) => ({
      id,
      at: iso(at),
      kind,
      name: name ?? '',
      rows: count,
    }));
  }

  /** False when it is not there any more. Fails: `already-there`, `not-there`; then nothing was changed. */
  async bringBack(id: string): Promise<boolean> {
    try {
      return await this.database.transaction(async (transaction) => {
        const entry = await transaction('trash').where({ id }).forUpdate().first<{ id: string } | undefined>('id');
        if (entry) await transaction.raw('select bring_back(?::uuid)', [id]);
        return entry !== undefined;
      });
    } catch (error) {
      const { code } = error as { code?: unknown };
      if (code === '23505')
        throw new DomainError(
          'already-there',
          'Something with its name, or in its place, is there now. Rename or delete that, then bring this back.',
        );
      if (code === '23503')
        throw new DomainError('not-there', 'What it belonged to is gone too. Bring that back first.');
      throw error;
    }
  }

  async drop(id: string): Promise<boolean> {
    return (await this.database('trash').where({ id }).delete()) > 0;
  }

  async dropOld(): Promise<void> {
    await this.database('trash').whereRaw("at < now() - ? * interval '1 day'", [KEPT_DAYS]).delete();
  }
}
