import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { Reanalysis } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';
import { notFound } from '../common/domain-error.js';
import { JobQueue, QUEUES, type JobEnd } from '../jobs/job-queue.js';
import { ReanalysisRepository } from './reanalysis.repository.js';
import { RunAnalyser } from './run-analyser.js';

/** A job works this long, then hands over to the next: shorter than a job may last. */
const SLICE_MS = 60_000;

/** Works out the figures of many runs again, in the background, whoever is killed meanwhile. */
@Injectable()
export class ReanalysisService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly jobQueue: JobQueue,
    private readonly reanalyses: ReanalysisRepository,
    private readonly analyser: RunAnalyser,
  ) {}

  unfinished(): Promise<string[]> {
    return this.reanalyses.unfinished();
  }

  async overview(): Promise<{ outdated: number; latest: Reanalysis | null }> {
    const [outdated, latest] = await Promise.all([this.reanalyses.countOutdated(), this.reanalyses.find()]);
    return { outdated, latest: latest ?? null };
  }

  async begin(scope: 'outdated' | 'all'): Promise<Reanalysis> {
    const id = await this.database.transaction(async (transaction) => {
      const underway = await this.reanalyses.lockUnderway(transaction);
      if (underway !== undefined) return underway;
      const begun = await this.reanalyses.begin(scope, transaction);
      await this.jobQueue.enqueue(QUEUES.reanalyse, begun, { transaction });
      return begun;
    });
    return this.get(id);
  }

  async cancel(id: string): Promise<Reanalysis> {
    await this.get(id);
    await this.reanalyses.cancel(id);
    return this.get(id);
  }

  private async get(id: string): Promise<Reanalysis> {
    const found = await this.reanalyses.find(id);
    if (!found) throw notFound('This work');
    return found;
  }

  async takeJob(id: string): Promise<JobEnd> {
    const until = Date.now() + SLICE_MS;
    while (Date.now() < until) {
      const next = await this.reanalyses.workOnNext(id, async (runId, transaction) => {
        const end = await this.analyser.analyse(runId, transaction);
        // Gone, or requested again meanwhile: whoever did that has seen to it.
        return end === 'failed' || end === 'changed' || end === 'busy' ? end : 'same';
      });
      if (next === 'busy') return 'later';
      if (next === 'none') {
        await this.reanalyses.finish(id);
        return 'done';
      }
    }
    await this.jobQueue.enqueue(QUEUES.reanalyse, id);
    return 'done';
  }
}
