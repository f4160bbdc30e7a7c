import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { THUMB_RULES } from '@ebrix/core/bench';
import { thumbRulesSchema, type ThumbRules } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';

const KEY = 'thumb-rules';

/** The tester's rules of thumb; those of the core until they are changed. */
@Injectable()
export class ThumbRuleRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async get(): Promise<ThumbRules> {
    const [row] = await this.database('setting').where({ key: KEY }).select<{ value: unknown }[]>('value');
    return row ? thumbRulesSchema.parse(row.value) : THUMB_RULES.map((rule) => ({ ...rule }));
  }

  async set(rules: ThumbRules): Promise<void> {
    await this.database('setting')
      .insert({ key: KEY, value: JSON.stringify(rules) })
      .onConflict('key')
      .merge();
  }
}
