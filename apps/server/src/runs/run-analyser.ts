import { Inject, Injectable, Logger } from '@nestjs/common';
import type { Knex } from 'knex';
import type { LogMapping } from '@ebrix/core/logs';
import type { GivenSpan } from '@ebrix/core/tests';
import { ComputePool } from '../compute/compute-pool.js';
import { KNEX } from '../database/database.module.js';
import { RunContextService } from './run-context.service.js';
import { RunRepository } from './run.repository.js';

export type AnalysisEnd = 'changed' | 'failed' | 'gone' | 'same';

/** Works out the figures of a stored run again, from the bytes of its log. */
@Injectable()
export class RunAnalyser {
  private readonly logger = new Logger('analysis');

  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly runs: RunRepository,
    private readonly contexts: RunContextService,
    private readonly pool: ComputePool,
  ) {}

  async analyse(runId: string, transaction?: Knex): Promise<AnalysisEnd> {
    const run = await this.runs.findForAnalysis(runId);
    if (!run) return 'gone';
    const { assignment, bytes, mapping, spans } = run;
    const context = await this.contexts.contextOf(assignment);
    const outcome = await this.pool.run('analyse', {
      bytes,
      mapping: mapping as LogMapping | null,
      context: spans.length > 0 ? { ...context, spans: spans as GivenSpan[] } : context,
      testKind: assignment.testKind,
    });
    if (!outcome.ok) {
      this.logger.error(`run ${runId} can no longer be read: ${outcome.problem.message}`);
      return 'failed';
    }
    const replace = (within: Knex): Promise<boolean> => this.runs.replaceFigures(runId, outcome.value, within);
    const isChanged = transaction ? await replace(transaction) : await this.database.transaction(replace);
    return isChanged ? 'changed' : 'same';
  }
}
