import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { Mark } from '@ebrix/core/bench';
import type { MarkInput } from '@ebrix/contract';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';

interface MarkRow {
  revision_id: string;
  about: string;
  kind: Mark['kind'];
  signed_by: string;
  reason: string;
  at: Date;
}

/** What was passed by eye or waived in writing, by revision. */
@Injectable()
export class MarkRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async listOf(revisionIds: readonly string[], db = this.database): Promise<ReadonlyMap<string, readonly Mark[]>> {
    const rows = await db<MarkRow>('setup_mark')
      .select('revision_id', 'about', 'kind', 'signed_by', 'reason', 'at')
      .whereIn('revision_id', [...revisionIds])
      .whereNull('undone_at')
      .orderBy('at');
    const marks = new Map<string, Mark[]>();
    for (const row of rows as MarkRow[])
      marks.set(row.revision_id, [...(marks.get(row.revision_id) ?? []), toMark(row)]);
    return marks;
  }

  /** The marks of a revision, which nobody else changes until the transaction ends. */
  async listAlone(revisionId: string, transaction: Knex): Promise<readonly Mark[]> {
    await transaction('setup_revision').where({ id: revisionId }).forUpdate().select('id');
    return (await this.listOf([revisionId], transaction)).get(revisionId) ?? [];
  }

  /** A new mark takes the place of an older one about the same thing; the older one stays on record as undone. */
  async insert(revisionId: string, { ids, kind, by, reason }: MarkInput, transaction: Knex): Promise<void> {
    const unique = [...new Set(ids)];
    await this.undo(revisionId, unique, transaction);
    await transaction('setup_mark').insert(
      unique.map((about) => ({ id: uuidv7(), revision_id: revisionId, about, kind, signed_by: by, reason })),
    );
  }

  /** As they were written, by whom and when. */
  async copy(marks: readonly Mark[], revisionId: string, transaction: Knex): Promise<void> {
    if (marks.length === 0) return;
    await transaction('setup_mark').insert(
      marks.map(({ id: about, kind, by, reason, at }) => ({
        id: uuidv7(),
        revision_id: revisionId,
        about,
        kind,
        signed_by: by,
        reason,
        at,
      })),
    );
  }

  async undo(revisionId: string, ids: readonly string[], transaction: Knex): Promise<void> {
    await transaction('setup_mark')
      .where({ revision_id: revisionId })
      .whereIn('about', [...ids])
      .whereNull('undone_at')
      .update({ undone_at: transaction.fn.now() });
  }
}

function toMark({ about, kind, signed_by: by, reason, at }: MarkRow): Mark {
  return { id: about, kind, by, reason, at: iso(at) };
}
