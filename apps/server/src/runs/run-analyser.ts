import { Inject, Injectable, Logger } from '@nestjs/common';
import type { Knex } from 'knex';
import type { LogMapping } from '@ebrix/core/logs';
import type { GivenSpan } from '@ebrix/core/analysis';
import { isConnectionLost } from '../common/connection-lost.js';
import { DomainError } from '../common/domain-error.js';
import { JobPool } from '../compute/compute-pool.js';
import { KNEX } from '../database/database.module.js';
import type { JobEnd } from '../jobs/job-queue.js';
import { AnalysisRequests } from '../jobs/analysis-requests.js';
import { LearnedReadingsRepository } from './learned-readings.repository.js';
import { RunContextService } from './run-context.service.js';
import { RunFigureRepository, type Replacement } from './run-figure.repository.js';
import { RunRepository, type RunForAnalysis } from './run.repository.js';

export type AnalysisEnd = Replacement | 'busy' | 'failed' | 'gone';

/** Works out the figures of a stored run again, from the bytes of its log. */
@Injectable()
export class RunAnalyser {
  private readonly logger = new Logger('analysis');

  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly runs: RunRepository,
    private readonly figures: RunFigureRepository,
    private readonly contexts: RunContextService,
    private readonly pool: JobPool,
    private readonly learned: LearnedReadingsRepository,
    private readonly requests: AnalysisRequests,
  ) {}

  /** What cannot be computed any more keeps its figures and says so on the run; throws only while the database is away. */
  async analyse(runId: string, transaction: Knex = this.database): Promise<AnalysisEnd> {
    const run = await this.runs.findForAnalysis(runId);
    if (!run) return 'gone';
    try {
      const outcome = await this.compute(run);
      if (!outcome.ok) return await this.giveUp(runId, run.requestNumber, outcome.problem.message);
      // Within another transaction a savepoint: what fails here takes nothing of it along.
      return await transaction.transaction(async (inner) => {
        const end = await this.figures.replace(runId, run.requestNumber, outcome.value, inner);
        await this.readAnew(runId, inner);
        return end;
      });
    } catch (error) {
      if (isConnectionLost(error)) throw error;
      if (error instanceof DomainError && error.code === 'busy') return 'busy';
      if (!(error instanceof DomainError))
        this.logger.error(error instanceof Error ? (error.stack ?? '') : String(error));
      return this.giveUp(
        runId,
        run.requestNumber,
        error instanceof DomainError ? error.message : 'The server’s log says why.',
      );
    }
  }

  /** What a gauge and a charger were seen to mean is what rides without a logger are read by. */
  async readAnew(runId: string, transaction: Knex): Promise<void> {
    for (const id of await this.learned.readByItsPacks(runId, transaction))
      await this.requests.analyse({ id }, transaction);
  }

  async takeJob(runId: string): Promise<JobEnd> {
    return (await this.analyse(runId)) === 'busy' ? 'later' : 'done';
  }

  /** Runs whose figures were requested and are not there yet. */
  pending(): Promise<string[]> {
    return this.figures.pending();
  }

  private async giveUp(runId: string, requestNumber: number, why: string): Promise<'failed'> {
    this.logger.warn(`run ${runId} could not be recalculated: ${why}`);
    await this.figures.giveUp(runId, requestNumber, {
      code: 'not-worked-out',
      message: `These are the earlier figures: recalculating them failed. ${why}`,
    });
    return 'failed';
  }

  private async compute({ assignment, bytes, mapping, spans }: RunForAnalysis) {
    const context = await this.contexts.contextOf(assignment);
    return this.pool.run('analyse', {
      bytes,
      mapping: mapping as LogMapping | null,
      context: spans.length > 0 ? { ...context, spans: spans as GivenSpan[] } : context,
      testKind: assignment.testKind,
    });
  }
}
