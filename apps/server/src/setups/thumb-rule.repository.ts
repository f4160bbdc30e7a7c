import { isDeepStrictEqual } from 'node:util';
import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { thumbRulesSchema, type ThumbRules } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
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

  /** Fails: `changed-meanwhile` where they are not those that were `seen`. */
  async set(rules: ThumbRules, seen?: ThumbRules): Promise<void> {
    await this.database.transaction(async (transaction) => {
      await transaction('setting').insert({ key: KEY, value: '[]' }).onConflict('key').ignore();
      const [row] = await transaction('setting').where({ key: KEY }).forUpdate().select<{ value: unknown }[]>('value');
      const current = thumbRulesSchema.parse(row?.value ?? []);
      if (seen && !isDeepStrictEqual(current, seen))
        throw new DomainError(
          'changed-meanwhile',
          'The rules of thumb were changed in another window meanwhile. What you typed is still here; open the page anew to see those.',
          { current },
        );
      await transaction('setting')
        .where({ key: KEY })
        .update({ value: JSON.stringify(rules) });
    });
  }
}
