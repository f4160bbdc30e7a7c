import { randomUUID } from 'node:crypto';
import { Inject, Injectable, Logger } from '@nestjs/common';
import type { Knex } from 'knex';
import type { LogMapping } from '@ebrix/core/logs';
import type { PartOfOuting, RunAssignment } from '@ebrix/contract';
import { isConnectionLost } from '../common/connection-lost.js';
import { DomainError } from '../common/domain-error.js';
import { JobPool } from '../compute/compute-pool.js';
import type { ReadRide, RunToAnalyse } from '../compute/task-types.js';
import { KNEX } from '../database/database.module.js';
import type { JobEnd } from '../jobs/job-queue.js';
import { assignmentsOfParts } from '../runs/assignment-row.js';
import { LogRepository } from '../runs/log.repository.js';
import { RunAnalyser } from '../runs/run-analyser.js';
import { RunContextService } from '../runs/run-context.service.js';
import { RunRepository } from '../runs/run.repository.js';
import { ImportLeaseRepository, type ClaimedImport } from './import-lease.repository.js';
import { ImportRepository, type ImportProblem } from './import.repository.js';

const FOREIGN_KEY_VIOLATION = '23503';
const RENEW_MS = 5_000;

/** Reads files into runs. One import is one transaction, all or nothing. */
@Injectable()
export class ImportProcessor {
  private readonly logger = new Logger('imports');

  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly imports: ImportRepository,
    private readonly leases: ImportLeaseRepository,
    private readonly logs: LogRepository,
    private readonly runs: RunRepository,
    private readonly contexts: RunContextService,
    private readonly pool: JobPool,
    private readonly analyser: RunAnalyser,
  ) {}

  unfinished(): Promise<string[]> {
    return this.imports.unfinished();
  }

  async readImport(id: string): Promise<JobEnd> {
    const holder = randomUUID();
    const file = await this.leases.claim(id, holder);
    if (file === 'leased') return 'later';
    if (!file) return 'done';
    const renewal = setInterval(() => {
      this.leases.renewLease(id, holder).catch((error: unknown) => this.logger.warn(String(error)));
    }, RENEW_MS);
    try {
      await this.readInto(file, holder);
      return 'done';
    } catch (error) {
      // The database went away: nothing is stored, and the job comes again.
      if (isConnectionLost(error)) throw error;
      if (error instanceof DomainError && error.code === 'busy') {
        await this.leases.release(id, holder);
        return 'later';
      }
      await this.leases.fail(id, holder, this.problemOf(error));
      return 'done';
    } finally {
      clearInterval(renewal);
    }
  }

  private async readInto(file: ClaimedImport, holder: string): Promise<void> {
    const { id } = file;
    const assignments = assignmentsOf(file.assignment, file.parts);
    const runs: RunToAnalyse[] = [];
    for (const one of assignments) runs.push({ testKind: one.testKind, context: await this.contexts.contextOf(one) });
    const bytes = await this.leases.bytesOf(file);
    // It was taken off the list meanwhile.
    if (!bytes) return;
    const outcome = await this.pool.run('readRide', { bytes, mapping: file.mapping as LogMapping | null, runs }, [
      bytes.buffer,
    ]);
    if (!outcome.ok) {
      const { code, message, line } = outcome.problem;
      return this.leases.fail(id, holder, { code, message, line: line ?? null });
    }
    await this.leases.setStep(id, 'storing');
    await this.store(file, holder, assignments, outcome.value);
    await this.imports.notify(id);
  }

  private async store(
    file: ClaimedImport,
    holder: string,
    assignments: readonly RunAssignment[],
    ride: ReadRide,
  ): Promise<void> {
    await this.database.transaction(async (transaction) => {
      if (!(await this.leases.lockWorking(file.id, holder, transaction))) return;
      const known = await this.runs.findRunBySha256(file.sha256, transaction);
      if (known !== undefined) return this.imports.finish(file.id, [known], 'known', transaction);
      await this.runs.forgetDeleted(file.sha256, transaction);
      const logId = await this.logs.insertOfImport(file, ride, transaction);
      const runIds: string[] = [];
      for (const [k, one] of assignments.entries())
        runIds.push(await this.runs.insert(logId, one, ride.analyses[k]!, transaction));
      if (await this.imports.isOfSimulatedRide(file.id, transaction))
        for (const runId of runIds) await this.runs.markSimulated(runId, transaction);
      for (const runId of runIds) await this.analyser.readAnew(runId, transaction);
      await this.imports.finish(file.id, runIds, 'done', transaction);
    });
  }

  /** What was chosen is gone, the file is beyond the limits, or something broke: three things, three answers. */
  private problemOf(error: unknown): ImportProblem {
    const isGone =
      (error as { code?: string }).code === FOREIGN_KEY_VIOLATION ||
      (error instanceof DomainError && error.code === 'not-found');
    if (isGone)
      return {
        code: 'wrong-assignment',
        message:
          'The chosen setup, course, outing, rider or logger no longer exists. Choose again; nothing of the file was lost.',
        line: null,
      };
    if (error instanceof DomainError) return { code: error.code, message: error.message, line: null };
    this.logger.error(error instanceof Error ? (error.stack ?? error.message) : String(error));
    return {
      code: 'internal',
      message: 'The file could not be stored. Nothing of it was kept as a run; it is still here to be tried again.',
      line: null,
    };
  }
}

/** One for each run that the file holds. */
function assignmentsOf(assignment: RunAssignment, parts: readonly PartOfOuting[]): RunAssignment[] {
  return parts.length === 0 ? [assignment] : assignmentsOfParts(assignment, parts);
}
