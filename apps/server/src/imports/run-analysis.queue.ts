import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { KNEX } from '../database/database.module.js';
import { Boss, QUEUES } from './boss.js';

/** Asks for figures to be computed (again) off the request; each asking is counted, so that none is answered by an older one. */
@Injectable()
export class RunAnalysisQueue {
  constructor(
    private readonly boss: Boss,
    @Inject(KNEX) private readonly database: Knex,
  ) {}

  enqueueImport(importId: string): Promise<void> {
    return this.boss.send(QUEUES.readImport, { id: importId });
  }

  enqueueRun(runId: string): Promise<void> {
    return this.ask({ id: runId });
  }

  enqueueRunsOfCourse(courseId: string): Promise<void> {
    return this.ask({ course_id: courseId });
  }

  enqueueRunsOfOuting(outingId: string): Promise<void> {
    return this.ask({ outing_id: outingId });
  }

  /** What a process that ended had been asked for. */
  async resume(runIds: readonly string[]): Promise<void> {
    for (const id of runIds) await this.boss.send(QUEUES.analyseRun, { id });
  }

  private async ask(of: Readonly<Record<string, string>>): Promise<void> {
    const runs = await this.database('run').where(of).increment('analyses_asked', 1).returning<{ id: string }[]>('id');
    await this.resume(runs.map(({ id }) => id));
  }
}
