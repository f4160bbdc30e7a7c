import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { KNEX } from '../database/database.module.js';

/** What rides taught of setups, kept until their inputs change. */
@Injectable()
export class LearnedBikeRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async find<T>(setupId: string, fingerprint: string): Promise<T | undefined> {
    const row = await this.database('learned_bike')
      .where({ setup_id: setupId, fingerprint })
      .first<{ learned: T } | undefined>('learned');
    return row?.learned;
  }

  /** In place of what was learned before; what belongs to no setup any more goes. */
  async save(setupId: string, fingerprint: string, learned: unknown): Promise<void> {
    await this.database.transaction(async (trx) => {
      await trx('learned_bike')
        .insert({ setup_id: setupId, fingerprint, learned: JSON.stringify(learned), at: trx.fn.now() })
        .onConflict('setup_id')
        .merge();
      await trx('learned_bike').whereNotIn('setup_id', trx('setup').select('id')).delete();
    });
  }
}
