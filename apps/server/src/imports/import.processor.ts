import { Inject, Injectable, Logger } from '@nestjs/common';
import type { Knex } from 'knex';
import type { LogMapping } from '@ebrix/core/logs';
import type { PartOfOuting, RunAssignment } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { ComputePool } from '../compute/compute-pool.js';
import type { RunToAnalyse } from '../compute/tasks.js';
import { KNEX } from '../database/database.module.js';
import { LogRepository } from '../runs/log.repository.js';
import { ReanalysisService } from '../runs/reanalysis.service.js';
import { RunAnalyser } from '../runs/run-analyser.js';
import { RunContextService } from '../runs/run-context.service.js';
import { RunFigureRepository } from '../runs/run-figure.repository.js';
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
    private readonly analyser: RunAnalyser,
    private readonly figures: RunFigureRepository,
    private readonly reanalyses: ReanalysisService,
  ) {}

  async start(parallel: number): Promise<void> {
    await this.boss.work(QUEUES.readImport, parallel, (id) => this.readImport(id));
    await this.boss.work(QUEUES.analyseRun, 1, (id) => this.analyser.analyse(id).then(() => undefined));
    await this.queue.resume(await this.figures.open());
    await this.reanalyses.start();
    // What was under way when the last process ended begins again; a job that is done finds nothing to claim.
    for (const id of await this.imports.unfinished()) await this.queue.enqueueImport(id);
  }

  async readImport(id: string): Promise<void> {
    const file = await this.imports.claim(id);
    if (!file) return;
    try {
      const { assignment } = file;
      const assignments = assignmentsOf(assignment, file.parts);
      const runs: RunToAnalyse[] = [];
      for (const one of assignments) runs.push({ testKind: one.testKind, context: await this.contexts.contextOf(one) });
      const outcome = await this.pool.run('readRide', {
        bytes: file.bytes,
        mapping: file.mapping as LogMapping | null,
        runs,
      });
      if (!outcome.ok) {
        const { code, message, line } = outcome.problem;
        return await this.imports.fail(id, { code, message, line: line ?? null });
      }
      await this.imports.setStep(id, 'storing channels and figures');
      await this.database.transaction(async (transaction) => {
        if (!(await this.imports.lockWorking(id, transaction))) return;
        const known = await this.runs.findRunBySha256(file.sha256, transaction);
        if (known !== undefined) return this.imports.finish(id, [known], 'known', transaction);
        const logId = await this.logs.insert({ ...file, ride: outcome.value }, transaction);
        const runIds: string[] = [];
        for (const [k, one] of assignments.entries())
          runIds.push(await this.runs.insert(logId, one, outcome.value.analyses[k]!, transaction));
        await this.imports.finish(id, runIds, 'done', transaction);
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
}

/** One for each run that the file holds. */
function assignmentsOf(assignment: RunAssignment, parts: readonly PartOfOuting[]): RunAssignment[] {
  return parts.length === 0 ? [assignment] : parts.map((part) => ({ ...assignment, ...part }));
}
