import { statfs } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { Load } from '@ebrix/contract';
import { Clock } from '../common/clock.js';
import { CONFIG, type Config } from '../common/config.js';
import { JobPool, PagePool } from '../compute/compute-pool.js';
import { KNEX } from '../database/database.module.js';

/** How this server is doing. */
@Injectable()
export class LoadService {
  private readonly startedAt: string;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    @Inject(KNEX) private readonly database: Knex,
    private readonly pages: PagePool,
    private readonly background: JobPool,
    clock: Clock,
  ) {
    this.startedAt = clock.now().toISOString();
  }

  async look(): Promise<Load> {
    const { bavail, blocks, bsize } = await statfs(this.config.EBRIX_BACKUPS ?? tmpdir());
    return {
      startedAt: this.startedAt,
      pages: this.pages.state(),
      background: this.background.state(),
      jobs: await this.jobs(),
      disk: { freeBytes: bavail * bsize, ofBytes: blocks * bsize },
    };
  }

  private async jobs(): Promise<Load['jobs']> {
    const { rows } = await this.database.raw<{ rows: { state: string; n: number }[] }>(
      'select state::text, count(*)::int as n from pgboss.job group by 1',
    );
    const of = (...states: string[]): number =>
      rows.reduce((sum, { state, n }) => (states.includes(state) ? sum + n : sum), 0);
    return { waiting: of('created', 'retry'), working: of('active'), failed: of('failed') };
  }
}
