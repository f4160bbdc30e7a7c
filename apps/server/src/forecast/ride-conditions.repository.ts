import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { KNEX } from '../database/database.module.js';

@Injectable()
export class RideConditionsRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  /** When weather, riders and courses last changed: what rides were learned with, beside the runs and the setup themselves. */
  async changedAt(): Promise<string> {
    const { rows } = await this.database.raw<{ rows: [{ at: string }] }>(`
      select concat_ws(' ', (select max(updated_at) from outing), (select max(updated_at) from rider), (select max(updated_at) from course)) as at
    `);
    return rows[0].at;
  }
}
