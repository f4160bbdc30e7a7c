import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import { reportSchema, type Report, type ReportSpec } from '@ebrix/contract';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import type { Change, Section } from './report-model.js';

interface ReportRow {
  id: string;
  number: number;
  edition: number;
  title: string;
  form: Report['form'];
  by: string;
  at: Date;
  fingerprint: string;
  trial_id: string | null;
  follows: string | null;
  spec: unknown;
  changes: unknown;
}
const COLUMNS = [
  'id',
  'number',
  'edition',
  'title',
  'form',
  'by',
  'at',
  'fingerprint',
  'trial_id',
  'follows',
  'spec',
  'changes',
] as const;

export interface NewReport {
  readonly spec: ReportSpec;
  readonly by: string;
  readonly follows: string | null;
  readonly sections: readonly Section[];
  readonly changes: readonly Change[];
  readonly fingerprint: string;
  /** The page once its number is known. */
  readonly html: (number: number, edition: number) => string;
}

/** Issued reports; nothing of them is ever changed. */
@Injectable()
export class ReportRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(id?: string): Promise<Report[]> {
    const rows = await this.database('report')
      .select<ReportRow[]>(...COLUMNS)
      .where(id === undefined ? {} : { id })
      .orderBy([
        { column: 'number', order: 'desc' },
        { column: 'edition', order: 'desc' },
      ]);
    return rows.map(({ edition, at, trial_id: trialId, ...row }) =>
      reportSchema.parse({ ...row, version: edition, at: iso(at), trialId }),
    );
  }

  async htmlOf(id: string): Promise<string | undefined> {
    const row: unknown = await this.database('report').where({ id }).first('html');
    return (row as { html: string } | undefined)?.html;
  }

  async sectionsOf(id: string): Promise<Section[] | undefined> {
    const row: unknown = await this.database('report').where({ id }).first('sections');
    return (row as { sections: Section[] } | undefined)?.sections;
  }

  /** Numbers are given out one by one; a later version keeps the number of the one that it follows. */
  async insert({ spec, by, follows, sections, changes, fingerprint, html }: NewReport): Promise<string> {
    const id = uuidv7();
    await this.database.transaction(async (transaction) => {
      await transaction.raw('lock table report in share row exclusive mode');
      const { number, edition } = await nextNumber(follows, transaction);
      await transaction('report').insert({
        id,
        number,
        edition,
        title: spec.title,
        form: spec.form,
        by,
        fingerprint,
        trial_id: spec.trialId,
        follows,
        spec: JSON.stringify(spec),
        sections: JSON.stringify(sections),
        changes: JSON.stringify(changes),
        html: html(number, edition),
      });
    });
    return id;
  }
}

async function nextNumber(follows: string | null, transaction: Knex): Promise<{ number: number; edition: number }> {
  if (follows === null) {
    const { rows } = await transaction.raw<{ rows: { next: number }[] }>(
      'select coalesce(max(number), 0) + 1 as next from report',
    );
    return { number: rows[0]!.next, edition: 1 };
  }
  const { rows } = await transaction.raw<{ rows: { number: number; next: number }[] }>(
    `select number, max(edition) + 1 as next from report
     where number = (select number from report where id = ?) group by number`,
    [follows],
  );
  return { number: rows[0]!.number, edition: rows[0]!.next };
}
