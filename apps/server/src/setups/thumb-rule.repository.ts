import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { thumbRulesSchema, type ThumbRules } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';

const KEY = 'thumb-rules';

/** The tester's own rules of thumb; none until they are written down. */
@Injectable()
export class ThumbRuleRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async get(): Promise<ThumbRules> {
    const [row] = await this.database('setting').where({ key: KEY }).select<{ value: unknown }[]>('value');
    return row ? thumbRulesSchema.parse(row.value) : [];
  }

  async set(rules: ThumbRules): Promise<void> {
    await this.database('setting')
      .insert({ key: KEY, value: JSON.stringify(rules) })
      .onConflict('key')
      .merge();
  }
}
