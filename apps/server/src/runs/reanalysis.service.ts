import { Injectable } from '@nestjs/common';
import type { Reanalysis } from '@ebrix/contract';
import { notFound } from '../common/domain-error.js';
import { Boss, QUEUES } from '../imports/boss.js';
import { ReanalysisRepository } from './reanalysis.repository.js';
import { RunAnalyser } from './run-analyser.js';

/** A job works this long, then hands over to the next: shorter than a job may last. */
const SLICE_MS = 60_000;

/** Works out the figures of many runs again, in the background, whoever is killed meanwhile. */
@Injectable()
export class ReanalysisService {
  constructor(
    private readonly boss: Boss,
    private readonly reanalyses: ReanalysisRepository,
    private readonly analyser: RunAnalyser,
  ) {}

  /** Takes the jobs, and goes on with what a process that ended left. */
  async start(): Promise<void> {
    await this.boss.work(QUEUES.reanalyse, 1, (id) => this.work(id));
    for (const id of await this.reanalyses.unfinished()) await this.boss.send(QUEUES.reanalyse, { id });
  }

  async place(): Promise<{ outdated: number; latest: Reanalysis | null }> {
    const [outdated, latest] = await Promise.all([this.reanalyses.countOutdated(), this.reanalyses.find()]);
    return { outdated, latest: latest ?? null };
  }

  async begin(scope: 'outdated' | 'all'): Promise<Reanalysis> {
    const [underWay] = await this.reanalyses.unfinished();
    if (underWay !== undefined) return this.get(underWay);
    const id = await this.reanalyses.begin(scope);
    await this.boss.send(QUEUES.reanalyse, { id });
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

  private async work(id: string): Promise<void> {
    const until = Date.now() + SLICE_MS;
    while (Date.now() < until) {
      const isMore = await this.reanalyses.workOnNext(id, async (runId, transaction) => {
        const end = await this.analyser.analyse(runId, transaction);
        // Gone or asked for anew meanwhile: whoever did that has seen to it.
        return end === 'failed' || end === 'changed' ? end : 'same';
      });
      if (!isMore) return this.reanalyses.finish(id);
    }
    await this.boss.send(QUEUES.reanalyse, { id });
  }
}
