import { Inject, Injectable, Logger } from '@nestjs/common';
import type { Knex } from 'knex';
import type { LogMapping } from '@ebrix/core/logs';
import { DomainError } from '../common/domain-error.js';
import { ComputePool } from '../compute/compute-pool.js';
import { KNEX } from '../database/database.module.js';
import { LogRepository } from '../runs/log.repository.js';
import { RunContextService } from '../runs/run-context.service.js';
import { RunRepository } from '../runs/run.repository.js';
import { Boss, QUEUES } from './boss.js';
import { ImportRepository } from './import.repository.js';
import { RunAnalysisQueue } from './run-analysis.queue.js';

const FOREIGN_KEY_VIOLATION = '23503';

/** Takes the jobs: reads files into runs, computes figures again. One import is one transaction, all or nothing. */
@Injectable()
export class ImportProcessor {
  private readonly logger = new Logger('imports');

  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly boss: Boss,
    private readonly queue: RunAnalysisQueue,
    private readonly imports: ImportRepository,
    private readonly logs: LogRepository,
    private readonly runs: RunRepository,
    private readonly contexts: RunContextService,
    private readonly pool: ComputePool,
  ) {}

  async start(parallel: number): Promise<void> {
    await this.boss.work(QUEUES.readImport, parallel, (id) => this.readImport(id));
    await this.boss.work(QUEUES.analyseRun, 1, (id) => this.analyseRun(id));
    // What was under way when the last process ended begins again; a job that is done finds nothing to claim.
    for (const id of await this.imports.unfinished()) await this.queue.enqueueImport(id);
  }

  async readImport(id: string): Promise<void> {
    const file = await this.imports.claim(id);
    if (!file) return;
    try {
      const { assignment } = file;
      const context = await this.contexts.contextOf(assignment);
      const outcome = await this.pool.run('readRide', {
        bytes: file.bytes,
        mapping: file.mapping as LogMapping | null,
        context,
        testKind: assignment.testKind,
      });
      if (!outcome.ok) {
        const { code, message, line } = outcome.problem;
        return await this.imports.fail(id, { code, message, line: line ?? null });
      }
      await this.imports.setStep(id, 'storing channels and figures');
      await this.database.transaction(async (transaction) => {
        if (!(await this.imports.lockWorking(id, transaction))) return;
        const known = await this.runs.findRunBySha256(file.sha256, transaction);
        if (known !== undefined) return this.imports.finish(id, known, 'known', transaction);
        const logId = await this.logs.insert({ ...file, ride: outcome.value }, transaction);
        const runId = await this.runs.insert(logId, assignment, outcome.value, transaction);
        await this.imports.finish(id, runId, 'done', transaction);
      });
      await this.imports.notify(id);
    } catch (error) {
      if ((error as { code?: string }).code === FOREIGN_KEY_VIOLATION || error instanceof DomainError)
        return await this.imports.fail(id, {
          code: 'wrong-assignment',
          message:
            'The chosen setup, course, outing, rider or logger is not here (any more). Choose again; nothing of the file was lost.',
          line: null,
        });
      this.logger.error(error instanceof Error ? (error.stack ?? error.message) : String(error));
      await this.imports.fail(id, {
        code: 'internal',
        message: 'The file could not be stored. Nothing of it was kept as a run; it is still here to be tried again.',
        line: null,
      });
    }
  }

  async analyseRun(runId: string): Promise<void> {
    const run = await this.runs.findForAnalysis(runId);
    if (!run) return;
    const context = await this.contexts.contextOf(run.assignment);
    const outcome = await this.pool.run('readRide', {
      bytes: run.bytes,
      mapping: run.mapping as LogMapping | null,
      context,
      testKind: run.assignment.testKind,
    });
    if (!outcome.ok) {
      this.logger.error(`run ${runId} can no longer be read: ${outcome.problem.message}`);
      return;
    }
    const ride = outcome.value;
    await this.database.transaction((transaction) => this.runs.replaceFigures(runId, ride, transaction));
  }
}
