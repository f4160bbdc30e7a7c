import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { KNEX } from '../database/database.module.js';
import { Boss, QUEUES } from './boss.js';

/** Asks for figures to be computed (again) off the request. */
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
    return this.boss.send(QUEUES.analyseRun, { id: runId });
  }

  async enqueueRunsOfCourse(courseId: string): Promise<void> {
    const runs = await this.database('run').select<{ id: string }[]>('id').where({ course_id: courseId });
    for (const { id } of runs) await this.enqueueRun(id);
  }

  async enqueueRunsOfOuting(outingId: string): Promise<void> {
    const runs = await this.database('run').select<{ id: string }[]>('id').where({ outing_id: outingId });
    for (const { id } of runs) await this.enqueueRun(id);
  }
}
