import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { KeptForecastInput } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';
import { deleteSeen } from '../database/delete-seen.js';

export interface KeptRow {
  readonly id: string;
  readonly version: number;
  readonly title: string;
  readonly setup_id: string;
  readonly setup_name: string;
  readonly course_id: string | null;
  readonly question: KeptForecastInput['question'];
  readonly figures: KeptForecastInput['figures'];
  readonly run_id: string | null;
  readonly at: Date;
}

@Injectable()
export class KeptForecastRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  /** Newest first. A ride that was deleted is no ride to be set against. */
  list(id?: string): Promise<KeptRow[]> {
    const query = this.database('kept_forecast as k')
      .join('setup as s', 's.id', 'k.setup_id')
      .leftJoin('run as r', (on) => on.on('r.id', 'k.run_id').andOnNull('r.deleted_at'))
      .select<KeptRow[]>(
        'k.id',
        'k.version',
        'k.title',
        'k.setup_id',
        's.name as setup_name',
        'k.course_id',
        'k.question',
        'k.figures',
        'r.id as run_id',
        'k.at',
      )
      .orderBy('k.id', 'desc');
    if (id !== undefined) void query.where('k.id', id);
    return query;
  }

  async insert({ title, setupId, courseId, question, figures }: KeptForecastInput): Promise<string> {
    const id = uuidv7();
    await this.database('kept_forecast').insert({
      id,
      title,
      setup_id: setupId,
      course_id: courseId,
      question: JSON.stringify(question),
      figures: JSON.stringify(figures),
    });
    return id;
  }

  /** False where the version is no longer the stored one. */
  async setAgainst(id: string, version: number, runId: string | null): Promise<boolean> {
    return (
      (await this.database('kept_forecast')
        .where({ id, version })
        .update({ run_id: runId, version: version + 1 })) > 0
    );
  }

  async delete(id: string, version: number | undefined): Promise<boolean> {
    return (await deleteSeen(this.database, 'kept_forecast', id, version)) > 0;
  }
}
