import { Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { JobQueue, QUEUES } from './job-queue.js';

/** Which runs are meant. */
type RunFilter = { readonly id: string } | { readonly course_id: string } | { readonly outing_id: string };

/**
 * Requests that figures are computed (again) off the request, within the transaction that changes what they rest on. Requests
 * are counted, so that none is answered by figures of an earlier one.
 */
@Injectable()
export class AnalysisRequests {
  constructor(private readonly jobQueue: JobQueue) {}

  readImport(importId: string, transaction: Knex): Promise<void> {
    return this.jobQueue.enqueue(QUEUES.readImport, importId, { transaction });
  }

  async analyse(which: RunFilter, transaction: Knex): Promise<void> {
    const runs = await transaction('run')
      .where(which)
      .increment('analyses_requested', 1)
      .returning<{ id: string }[]>('id');
    for (const { id } of runs) await this.jobQueue.enqueue(QUEUES.analyseRun, id, { transaction });
  }
}
