import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { USUAL_SERVICE, USUAL_STAGES } from '@ebrix/core/life';
import { logbookSettingsSchema, type LogbookSettings } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';

const KEY = 'logbook';
const USUAL_LOWEST_SHARE = 0.7;

/** Service intervals, follow-ups and the end of a pack; the usual ones, as version 0, until somebody changes them. */
@Injectable()
export class LogbookSettingsRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async get(): Promise<LogbookSettings> {
    const [row] = await this.database('setting').where({ key: KEY }).select<{ value: unknown }[]>('value');
    return row
      ? logbookSettingsSchema.parse(row.value)
      : {
          version: 0,
          items: structuredClone(USUAL_SERVICE),
          stages: structuredClone(USUAL_STAGES),
          lowestPackShare: USUAL_LOWEST_SHARE,
        };
  }

  /** False when another window stored meanwhile. */
  async save({ version, ...settings }: LogbookSettings): Promise<boolean> {
    const value = JSON.stringify({ version: version + 1, ...settings });
    if (version === 0) {
      const stored = await this.database('setting')
        .insert({ key: KEY, value })
        .onConflict('key')
        .ignore()
        .returning('key');
      return stored.length > 0;
    }
    const count = await this.database('setting')
      .where({ key: KEY })
      .whereRaw("(value->>'version')::int = ?", [version])
      .update({ value });
    return count > 0;
  }
}
