import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { KNEX } from '../database/database.module.js';

/** How long what nobody took up is kept, days. */
export const KEPT_FOR = {
  /** Files that were brought in and never became a run, with their bytes; and those that were refused. What was made of a ride stays. */
  stagedFiles: 30,
  /** What loggers sent without a ride, or with one that was aborted. */
  loggerLines: 90,
} as const;
/** Rows of one sweep: others are answered between sweeps. */
const AT_ONCE = 200;

/** Lets go of what was left lying: what a run, a ride or a report stands on is never touched. */
@Injectable()
export class RetentionRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  /** Gives back how many of each went. */
  async sweep(now: Date): Promise<{ files: number; sessions: number }> {
    const before = (days: number): Date => new Date(now.getTime() - days * 86_400_000);
    const { rowCount: files } = await this.database.raw<{ rowCount: number }>(
      `delete from import_file where id in (
         select id from import_file
         where run_id is null and ride_id is null and status in ('staged', 'refused', 'failed', 'cancelled') and updated_at < ? limit ?)`,
      [before(KEPT_FOR.stagedFiles), AT_ONCE],
    );
    const { rowCount: sessions } = await this.database.raw<{ rowCount: number }>(
      `with old as (
         select s.id from logger_session s
         where s.last_seen_at < ? and not exists (select from ride r where r.session_id = s.id and r.state <> 'aborted') limit ?),
       let_go as (update ride set session_id = null where session_id in (select id from old))
       delete from logger_session where id in (select id from old)`,
      [before(KEPT_FOR.loggerLines), AT_ONCE],
    );
    return { files, sessions };
  }
}
