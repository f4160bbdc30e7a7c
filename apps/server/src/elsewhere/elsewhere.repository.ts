import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import { KNEX } from '../database/database.module.js';

export interface StoredStudy {
  readonly id: string;
  readonly tester: string;
  readonly a_revision_id: string;
  readonly b_revision_id: string;
  readonly ratio: number;
  readonly lower: number;
  readonly upper: number;
  readonly runs: number | null;
  readonly note: string;
}

/** What other testers found, by trial. */
@Injectable()
export class ElsewhereRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async ofTrial(trialId: string): Promise<StoredStudy[]> {
    return this.database('elsewhere_study')
      .select<StoredStudy[]>(
        'id',
        'tester',
        'a_revision_id',
        'b_revision_id',
        'ratio',
        'lower',
        'upper',
        'runs',
        'note',
      )
      .where({ trial_id: trialId })
      .orderBy('id');
  }

  async insert(trialId: string, study: Omit<StoredStudy, 'id'>): Promise<void> {
    await this.database('elsewhere_study').insert({ id: uuidv7(), trial_id: trialId, ...study });
  }

  async delete(id: string): Promise<number> {
    return this.database('elsewhere_study').where({ id }).delete();
  }
}
