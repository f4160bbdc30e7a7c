import { createHash } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { LogInspection } from '@ebrix/core/logs';
import type { ImportFile, Inspection, MappingDto, Split, StartImport } from '@ebrix/contract';
import { DomainError, notFound } from '../common/domain-error.js';
import { isoOfEpoch } from '../common/row.js';
import type { UploadedLog } from '../common/uploads.js';
import { PagePool } from '../compute/compute-pool.js';
import { KNEX } from '../database/database.module.js';
import { RunRepository } from '../runs/run.repository.js';
import { SplitService } from '../runs/split.service.js';
import { SetupService } from '../setups/setup.service.js';
import { AnalysisRequests } from '../jobs/analysis-requests.js';
import { ImportRepository } from './import.repository.js';
import { ProfileRepository } from './profile.repository.js';

@Injectable()
export class ImportService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly imports: ImportRepository,
    private readonly profiles: ProfileRepository,
    private readonly runs: RunRepository,
    private readonly requests: AnalysisRequests,
    private readonly pool: PagePool,
    private readonly setups: SetupService,
    private readonly splits: SplitService,
  ) {}

  list(): Promise<ImportFile[]> {
    return this.imports.list();
  }

  async find(id: string): Promise<ImportFile | undefined> {
    return (await this.imports.list([id]))[0];
  }

  /** Recognises files and keeps them until they are assigned; one bad file does not stop the others. */
  async stage(files: readonly UploadedLog[]): Promise<ImportFile[]> {
    const staged: ImportFile[] = [];
    for (const file of files) staged.push(await this.stageOne(file));
    return staged;
  }

  private async stageOne({ fileName, bytes }: UploadedLog): Promise<ImportFile> {
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    const base = { fileName, sha256, bytes };
    const knownRun = await this.runs.findRunBySha256(sha256);
    if (knownRun !== undefined)
      return this.imports.insert({ ...base, status: 'known', inspection: null, problem: null, runId: knownRun });
    const outcome = await this.pool.run('inspect', { bytes });
    if (!outcome.ok) {
      const { code, message, line } = outcome.problem;
      return this.imports.insert({
        ...base,
        status: 'refused',
        inspection: null,
        problem: { code, message, line: line ?? null },
        runId: null,
      });
    }
    const inspection = await this.withProfile(outcome.value);
    return this.imports.insert({ ...base, status: 'staged', inspection, problem: null, runId: null });
  }

  private async withProfile(inspection: LogInspection): Promise<Inspection> {
    const { signature, delimiter, startEpochS, longGaps, ...rest } = inspection;
    const startedAt = isoOfEpoch(startEpochS);
    const profile = signature === undefined ? undefined : await this.profiles.find(signature);
    return {
      ...rest,
      delimiter: delimiter ?? null,
      startedAt,
      longGaps: [...longGaps],
      profile: profile ? { id: profile.id, name: profile.name } : null,
      ...(profile && { mapping: profile.mapping, questions: [] }),
    };
  }

  async start({ items }: StartImport): Promise<ImportFile[]> {
    const ids = items.map(({ importId }) => importId);
    // All or nothing: what is refused leaves no waiver behind, and a file that is queued has its job.
    await this.database.transaction(async (transaction) => {
      const refused = await this.imports.enqueue(items, transaction);
      if (refused.length > 0) {
        const names = (await this.imports.list(refused)).map(({ fileName }) => fileName);
        throw new DomainError(
          'wrong-state',
          `No longer waiting to be imported: ${names.join(', ') || 'a file'}. Nothing was started.`,
        );
      }
      await this.passClearance(items, transaction);
      for (const { mapping, profileName } of items)
        if (mapping && profileName) await this.profiles.save(profileName, mapping, transaction);
      for (const id of ids) await this.requests.readImport(id, transaction);
    });
    return this.imports.list(ids);
  }

  /** The first rides of a setup with safety checks to do are taken with the reason in writing; the checks stay open. Fails: `clearance-open`. */
  private async passClearance(items: StartImport['items'], transaction: Knex): Promise<void> {
    const revisionIds = [...new Set(items.flatMap(setupsOf))];
    const clearances = await this.setups.clearances(revisionIds);
    const said = await this.setups.saidOfPastRides(revisionIds);
    const lastDays = await this.lastDays(items, transaction);
    // A word about rides before it says nothing of one that came after.
    const isSaid = (id: string): boolean => (said.get(id) ?? '') >= (lastDays.get(id) ?? '9999');
    const open = revisionIds.filter((id) => (clearances.get(id)?.openClearance ?? 0) > 0 && !isSaid(id));
    const waiverOf = (id: string) =>
      items.find((item) => setupsOf(item).includes(id) && item.clearanceWaiver)?.clearanceWaiver;
    const unsigned = open.filter((id) => !waiverOf(id));
    if (unsigned.length > 0)
      throw new DomainError(
        'clearance-open',
        'Safety checks of this setup are still to do: pass them on its page, or say in writing why it was ridden all the same. The checks stay to be done before the next ride. Nothing was started.',
        { revisionIds: unsigned },
      );
    for (const id of open) {
      const { by, reason } = waiverOf(id)!;
      await this.setups.notePastRides(id, by, reason, transaction);
    }
  }

  /** The last day on which each setup was ridden, by the outings of these files. */
  private async lastDays(items: StartImport['items'], transaction: Knex): Promise<ReadonlyMap<string, string>> {
    const rows = await transaction('outing')
      .whereIn(
        'id',
        items.map(({ assignment }) => assignment.outingId),
      )
      .select<{ id: string; date: string }[]>('id', 'date');
    const dayOf = new Map(rows.map(({ id, date }) => [id, date]));
    const last = new Map<string, string>();
    for (const item of items)
      for (const id of setupsOf(item)) {
        const day = dayOf.get(item.assignment.outingId) ?? '9999';
        if (day > (last.get(id) ?? '')) last.set(id, day);
      }
    return last;
  }

  /** Fails: `wrong-state` when the file waits no more; a log problem when it cannot be read. */
  async split(id: string, mapping: MappingDto | null, courseId: string | null): Promise<Split> {
    const bytes = await this.imports.waiting(id);
    if (!bytes) throw new DomainError('wrong-state', 'This file is no longer waiting to be imported.');
    return this.splits.propose(bytes, mapping, courseId);
  }

  /** Takes a file off the list; a run that was made of it stays. */
  async discard(id: string): Promise<void> {
    if (!(await this.imports.cancel(id))) throw notFound('This file');
  }
}

/** All that a file was ridden on: its parts may name setups of their own. */
function setupsOf({ assignment, parts }: StartImport['items'][number]): string[] {
  return parts.length === 0
    ? [assignment.setupRevisionId]
    : parts.map(({ setupRevisionId }) => setupRevisionId ?? assignment.setupRevisionId);
}
