import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import { MANUAL_METHOD, METHODS } from '@ebrix/core/analysis';
import type { Reanalysis } from '@ebrix/contract';
import { iso, isoOrNull } from '../common/row.js';
import { KNEX } from '../database/database.module.js';

interface ReanalysisRow {
  id: string;
  started_at: Date;
  finished_at: Date | null;
  cancelled_at: Date | null;
  total: string;
  done: string;
  failed: string;
  changed: string;
}

/** Runs to be worked out again: one row each, so that a process that is killed leaves only what is left to do. */
@Injectable()
export class ReanalysisRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  private outdatedRuns(database: Knex): Knex.QueryBuilder {
    const present = Object.entries(METHODS).map(([kind, { version }]) => [kind, version]);
    return database('run')
      .where((query) => {
        void query.whereNot('method_name', MANUAL_METHOD.name).whereNotIn(['test_kind', 'method_version'], present);
      })
      .orWhere((query) => {
        void query.where('method_name', MANUAL_METHOD.name).whereNot('method_version', MANUAL_METHOD.version);
      });
  }

  async countOutdated(): Promise<number> {
    const [row] = await this.outdatedRuns(this.database).count<{ count: string }[]>('id as count');
    return Number(row!.count);
  }

  async begin(scope: 'outdated' | 'all', transaction: Knex): Promise<string> {
    const id = uuidv7();
    const wanted = scope === 'all' ? transaction('run') : this.outdatedRuns(transaction);
    const runs = await wanted.select<{ id: string }[]>('id');
    await transaction('reanalysis').insert({ id });
    await transaction.batchInsert(
      'reanalysis_run',
      runs.map((run) => ({ reanalysis_id: id, run_id: run.id })),
      1000,
    );
    return id;
  }

  /** The one under way, if any; two windows that begin at once wait for each other here. */
  async lockUnderway(transaction: Knex): Promise<string | undefined> {
    await transaction.raw('lock table reanalysis in share row exclusive mode');
    const row = await transaction<{ id: string; finished_at: Date | null; cancelled_at: Date | null }>('reanalysis')
      .select('id')
      .whereNull('finished_at')
      .whereNull('cancelled_at')
      .first();
    return row?.id;
  }

  async find(id?: string): Promise<Reanalysis | undefined> {
    const query = this.database('reanalysis as a')
      .leftJoin('reanalysis_run as r', 'r.reanalysis_id', 'a.id')
      .groupBy('a.id')
      .select('a.*')
      .select(
        this.database.raw(
          `count(r.run_id) as total, count(*) filter (where r.state = 'done') as done,
           count(*) filter (where r.state = 'failed') as failed, count(*) filter (where r.is_changed) as changed`,
        ),
      )
      .orderBy('a.started_at', 'desc')
      .limit(1);
    if (id !== undefined) void query.where('a.id', id);
    const [row] = (await query) as ReanalysisRow[];
    return row && toReanalysis(row);
  }

  async unfinished(): Promise<string[]> {
    const rows = await this.database<{ id: string; finished_at: Date | null; cancelled_at: Date | null }>('reanalysis')
      .select('id')
      .whereNull('finished_at')
      .whereNull('cancelled_at');
    return rows.map(({ id }) => id);
  }

  async cancel(id: string): Promise<void> {
    await this.database('reanalysis')
      .where({ id })
      .whereNull('finished_at')
      .update({ cancelled_at: this.database.fn.now() });
  }

  /**
   * Takes one run that waits and works on it in the same transaction, so that figures and mark are stored together; `none` when
   * none is left, `busy` when it stays waiting. What `work` stored of a run that failed is taken back, and the run marked as failed.
   */
  async workOnNext(
    id: string,
    work: (runId: string, transaction: Knex) => Promise<'busy' | 'changed' | 'failed' | 'same'>,
  ): Promise<'busy' | 'none' | 'worked'> {
    return this.database.transaction(async (transaction) => {
      const next = (await transaction('reanalysis_run as r')
        .join('reanalysis as a', 'a.id', 'r.reanalysis_id')
        .select('r.run_id')
        .where({ 'r.reanalysis_id': id, 'r.state': 'waiting' })
        .whereNull('a.cancelled_at')
        .orderBy('r.run_id')
        .limit(1)
        .forUpdate('r')
        .skipLocked()
        .first()) as { run_id: string } | undefined;
      if (!next) return 'none';
      const end = await work(next.run_id, transaction);
      if (end === 'busy') return 'busy';
      await transaction('reanalysis_run')
        .where({ reanalysis_id: id, run_id: next.run_id })
        .update({ state: end === 'failed' ? 'failed' : 'done', is_changed: end === 'changed' });
      return 'worked';
    });
  }

  /** Ends it once nothing waits any more. */
  async finish(id: string): Promise<void> {
    await this.database('reanalysis')
      .where({ id })
      .whereNull('finished_at')
      .whereNotExists(this.database('reanalysis_run').where({ reanalysis_id: id, state: 'waiting' }))
      .update({ finished_at: this.database.fn.now() });
  }
}

function toReanalysis(row: ReanalysisRow): Reanalysis {
  return {
    id: row.id,
    state: row.cancelled_at ? 'cancelled' : row.finished_at ? 'done' : 'working',
    total: Number(row.total),
    done: Number(row.done),
    failed: Number(row.failed),
    changed: Number(row.changed),
    startedAt: iso(row.started_at),
    finishedAt: isoOrNull(row.finished_at ?? row.cancelled_at),
  };
}
