import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { RatingDto, RatingInput } from '@ebrix/contract';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';

interface RatingRow {
  id: string;
  revision_id: string;
  rider: string;
  day: string;
  phase: RatingDto['phase'];
  is_blind: boolean;
  values: RatingDto['values'];
  note: string;
  at: Date;
  setup_name: string;
  number: number;
}

@Injectable()
export class RatingRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  ofSetup(setupId: string): Promise<RatingDto[]> {
    return this.select((query) => void query.where('rev.setup_id', setupId));
  }

  /** Of the very revisions that a trial compares. */
  ofTrial(trialId: string): Promise<RatingDto[]> {
    const revisions = this.database('trial_setup').select('revision_id').where({ trial_id: trialId });
    return this.select((query) => void query.whereIn('e.revision_id', revisions));
  }

  async isOfSetup(revisionId: string, setupId: string): Promise<boolean> {
    const row = (await this.database('setup_revision')
      .where({ id: revisionId, setup_id: setupId })
      .first('id')) as unknown;
    return row !== undefined;
  }

  async insert({ revisionId, isBlind, values, ...rest }: RatingInput): Promise<string> {
    const id = uuidv7();
    await this.database('experience_rating').insert({
      id,
      revision_id: revisionId,
      is_blind: isBlind,
      values: JSON.stringify(values),
      ...rest,
    });
    return id;
  }

  async delete(id: string): Promise<number> {
    return this.database('experience_rating').where({ id }).delete();
  }

  private async select(narrow: (query: Knex.QueryBuilder) => void): Promise<RatingDto[]> {
    const query = this.database('experience_rating as e')
      .join('setup_revision as rev', 'rev.id', 'e.revision_id')
      .join('setup as s', 's.id', 'rev.setup_id')
      .select('e.*', 's.name as setup_name', 'rev.number')
      .orderBy([
        { column: 'e.day', order: 'desc' },
        { column: 'e.id', order: 'desc' },
      ]);
    narrow(query);
    return ((await query) as RatingRow[]).map((row) => ({
      id: row.id,
      revisionId: row.revision_id,
      rider: row.rider,
      day: row.day,
      phase: row.phase,
      isBlind: row.is_blind,
      values: row.values,
      note: row.note,
      at: iso(row.at),
      setupName: row.setup_name,
      revisionNumber: row.number,
    }));
  }
}
