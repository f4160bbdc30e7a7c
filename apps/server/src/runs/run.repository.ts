import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type {
  GivenSpanDto,
  MappingDto,
  RidingChange,
  RunAssignment,
  RunListPage,
  RunQuery,
  RunSummary,
} from '@ebrix/contract';
import type { Analysis } from '../compute/task-types.js';
import { KNEX } from '../database/database.module.js';
import { ASSIGNMENT_COLUMNS, toAssignment, toAssignmentRow, type AssignmentRow } from './assignment-row.js';
import { findingsOf, RunFigureRepository } from './run-figure.repository.js';
import { selectRun, type StoredRun } from './select-run.js';
import { countRuns, searchOf, selectSummaries, toSummary, type SummaryRow } from './run-query.js';
import { idsOfRuns, pageOfRuns } from './run-page.js';

export interface RunForAnalysis {
  readonly bytes: Buffer;
  readonly mapping: MappingDto | null;
  /** Which asking this is: figures of an earlier one are not stored. */
  readonly requestNumber: number;
  /** As a tester set them; empty: all found by the program. */
  readonly spans: readonly GivenSpanDto[];
  readonly assignment: RunAssignment;
}
@Injectable()
export class RunRepository {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly figures: RunFigureRepository,
  ) {}

  async findRunBySha256(sha256: string, transaction: Knex = this.database): Promise<string | undefined> {
    const row = await transaction('run as r')
      .join('log as l', 'l.id', 'r.log_id')
      .select<{ id: string }[]>('r.id')
      .where('l.sha256', sha256)
      .whereNull('r.deleted_at')
      .first();
    return row?.id;
  }

  async findLogOf(id: string): Promise<string | undefined> {
    const row = await this.database<{ id: string; log_id: string }>('run').select('log_id').where({ id }).first();
    return row?.log_id;
  }

  async insert(logId: string, assignment: RunAssignment, analysis: Analysis, transaction: Knex): Promise<string> {
    const id = uuidv7();
    await transaction('run').insert({
      id,
      log_id: logId,
      ...(await assignmentRow(assignment, transaction)),
      method_name: analysis.method.name,
      method_version: analysis.method.version,
      warnings: JSON.stringify(analysis.warnings),
      findings: findingsOf(analysis),
    });
    await this.figures.insert(id, analysis, transaction);
    if (assignment.slotId !== null) await markSlotRidden(assignment.slotId, transaction);
    return id;
  }

  /** A run out of the log of another one; its figures are still to be worked out. */
  async insertPartOf(id: string, assignment: RunAssignment, transaction: Knex): Promise<string> {
    const like = await transaction('run')
      .where({ id })
      .first<Record<string, unknown>>('log_id', 'method_name', 'method_version', 'is_simulated');
    const newId = uuidv7();
    await transaction('run').insert({
      ...like,
      id: newId,
      split_from: id,
      ...(await assignmentRow(assignment, transaction)),
      warnings: '[]',
    });
    // Left out as a whole, it is left out in its parts until somebody takes them in.
    const exclusion = await transaction('run_exclusion')
      .where({ run_id: id })
      .whereNull('undone_at')
      .first<{ reason: string } | undefined>('reason');
    if (exclusion) await transaction('run_exclusion').insert({ id: uuidv7(), run_id: newId, reason: exclusion.reason });
    if (assignment.slotId !== null) await markSlotRidden(assignment.slotId, transaction);
    return newId;
  }

  /** Out of all lists, with its planned run free again; gives back those that were there. */
  async delete(runIds: readonly string[], transaction: Knex): Promise<string[]> {
    const rows: { id: string; slot_id: string | null }[] = await transaction('run')
      .whereRaw('id = any(?)', [[...runIds]])
      .whereNull('deleted_at')
      .update({ deleted_at: transaction.fn.now(), version: transaction.raw('version + 1') })
      .returning(['id', 'slot_id']);
    const slots = rows.flatMap(({ slot_id: slot }) => slot ?? []);
    await transaction('plan_slot as s')
      .whereRaw('s.id = any(?)', [slots])
      .where('s.state', 'ridden')
      .whereNotExists(transaction('run as r').whereRaw('r.slot_id = s.id').whereNull('r.deleted_at'))
      .update({ state: 'planned' });
    return rows.map(({ id }) => id);
  }

  /**
   * Gives back those that were deleted. A run and the parts that were made of it are never counted together: whichever is
   * brought back, the other goes. Fails with `23505` where another run took their part of the log meanwhile.
   */
  async restore(runIds: readonly string[], transaction: Knex): Promise<string[]> {
    const others = await transaction('run as r')
      .select<{ id: string }[]>('r.id')
      .whereNull('r.deleted_at')
      .whereRaw(`(r.split_from = any(?) or r.id in (select p.split_from from run p where p.id = any(?)))`, [
        [...runIds],
        [...runIds],
      ]);
    if (others.length > 0)
      await this.delete(
        others.map(({ id }) => id),
        transaction,
      );
    const rows: { id: string; slot_id: string | null }[] = await transaction('run')
      .whereRaw('id = any(?)', [[...runIds]])
      .whereNotNull('deleted_at')
      .update({ deleted_at: null, version: transaction.raw('version + 1') })
      .returning(['id', 'slot_id']);
    for (const { slot_id: slot } of rows) if (slot !== null) await markSlotRidden(slot, transaction);
    return rows.map(({ id }) => id);
  }

  /** A log all of whose runs were deleted makes room for the same file, brought in anew. */
  async forgetDeleted(sha256: string, transaction: Knex): Promise<void> {
    await transaction('run')
      .whereIn('log_id', transaction('log').select('id').where({ sha256 }))
      .whereNotNull('deleted_at')
      .delete();
    await transaction('log')
      .where({ sha256 })
      .whereNotExists(transaction('run').whereRaw('run.log_id = log.id'))
      .delete();
  }

  /** Spans as a tester set them; false when the version is no longer the stored one. */
  async correct(
    id: string,
    version: number,
    spans: readonly GivenSpanDto[],
    what: string,
    transaction: Knex,
  ): Promise<boolean> {
    if (!(await this.bump(id, version, transaction))) return false;
    await transaction('run_correction').insert({ id: uuidv7(), run_id: id, spans: JSON.stringify(spans), what });
    return true;
  }

  /** Takes the newest correction back, so that the one before it, or what the program found, holds; false on another version. */
  async undoCorrection(id: string, version: number, transaction: Knex): Promise<boolean> {
    if (!(await this.bump(id, version, transaction))) return false;
    const newest = await standingCorrection(id, transaction);
    if (newest)
      await transaction('run_correction').where({ id: newest.id }).update({ undone_at: transaction.fn.now() });
    return true;
  }

  async list(query: RunQuery): Promise<RunListPage> {
    const search = await searchOf(this.database, query);
    const [counted] = (await countRuns(this.database, search)) as [{ count: string }];
    const { ids, next, previous } = await pageOfRuns(this.database, search);
    return { items: await this.summariesOf(ids), total: Number(counted.count), next, previous };
  }

  /** In the order of the list, however many. */
  async idsOf(query: RunQuery): Promise<string[]> {
    return idsOfRuns(this.database, await searchOf(this.database, query));
  }

  /** In the order of `ids`; a run deleted meanwhile is simply not there. */
  async summariesOf(ids: readonly string[]): Promise<RunSummary[]> {
    const rows: SummaryRow[] = await selectSummaries(this.database).whereRaw('r.id = any(?)', [[...ids]]);
    const byId = new Map(rows.map((row) => [row.id, toSummary(row)]));
    return ids.flatMap((id) => byId.get(id) ?? []);
  }

  /** All runs of some setup revisions, on one course or on any. */
  async listOfRevisions(revisionIds: readonly string[], courseId: string | null): Promise<RunSummary[]> {
    const query = selectSummaries(this.database)
      .whereRaw('rev.id = any(?)', [[...revisionIds]])
      .whereNull('r.deleted_at');
    if (courseId !== null) void query.where('c.id', courseId);
    void query.orderBy('o.date').orderBy('r.id');
    return ((await query) as SummaryRow[]).map(toSummary);
  }

  /** All of a run at one moment: its figures may be replaced while they are read. */
  find(id: string): Promise<StoredRun | undefined> {
    return this.database.transaction((snapshot) => selectRun(snapshot, id), {
      isolationLevel: 'repeatable read',
      readOnly: true,
    });
  }

  /** Of these runs, those ridden until the pack was empty. */
  async emptiedOf(runIds: readonly string[]): Promise<Set<string>> {
    const rows = await this.database<{ id: string; emptied: boolean }>('run')
      .select('id')
      .whereRaw('id = any(?)', [[...runIds]])
      .andWhere({ emptied: true });
    return new Set(rows.map(({ id }) => id));
  }

  async loggersOf(runIds: readonly string[]): Promise<Map<string, string | null>> {
    const rows = await this.database<{ id: string; logger_id: string | null }>('run')
      .select('id', 'logger_id')
      .whereRaw('id = any(?)', [[...runIds]]);
    return new Map(rows.map(({ id, logger_id: loggerId }) => [id, loggerId]));
  }

  async findForAnalysis(id: string): Promise<RunForAnalysis | undefined> {
    const row = (await this.database('run as r')
      .join('log as l', 'l.id', 'r.log_id')
      .select(...ASSIGNMENT_COLUMNS.map((column) => `r.${column}`), 'r.analyses_requested', 'l.bytes', 'l.mapping')
      .where('r.id', id)
      .first()) as
      | (AssignmentRow & { analyses_requested: number; bytes: Buffer; mapping: MappingDto | null })
      | undefined;
    if (!row) return undefined;
    const correction = await standingCorrection(id, this.database);
    return {
      bytes: row.bytes,
      mapping: row.mapping,
      assignment: toAssignment(row),
      requestNumber: row.analyses_requested,
      spans: correction?.spans ?? [],
    };
  }

  /** What a run is of, held until the transaction ends; undefined when the version is no longer the stored one. */
  async lockAssignment(id: string, version: number, transaction: Knex): Promise<RunAssignment | undefined> {
    const row = await transaction('run')
      .where({ id, version })
      .whereNull('deleted_at')
      .forUpdate()
      .first<AssignmentRow | undefined>(...ASSIGNMENT_COLUMNS);
    return row && toAssignment(row);
  }

  /** False when the version is no longer the stored one. */
  async assign(id: string, version: number, assignment: RunAssignment, transaction: Knex): Promise<boolean> {
    const before = await transaction<AssignmentRow & { id: string }>('run').select('test_kind').where({ id }).first();
    if (!(await this.bump(id, version, transaction))) return false;
    await transaction('run')
      .where({ id })
      .update(await assignmentRow(assignment, transaction));
    if (assignment.slotId !== null) await markSlotRidden(assignment.slotId, transaction);
    // Spans of a pass say nothing of a climb: another kind of test is found anew.
    if (before && before.test_kind !== assignment.testKind)
      await transaction('run_correction')
        .where({ run_id: id })
        .whereNull('undone_at')
        .update({ undone_at: transaction.fn.now() });
    return true;
  }

  /** What is given changes, on runs that are there; gives back how many. */
  async changeRiding(
    { runIds, riding, riderId, loggerId, outingId, wheelFactor }: RidingChange,
    transaction: Knex,
  ): Promise<string[]> {
    const values = {
      ...(riding.way !== undefined && { way: riding.way }),
      ...(riding.level !== undefined && { assist_level: riding.level }),
      ...(riding.gear !== undefined && { gear: riding.gear }),
      ...(riding.payloadKg !== undefined && { payload_kg: riding.payloadKg }),
      ...(riding.limitMode !== undefined && { limit_mode: riding.limitMode }),
      ...(riding.laps !== undefined && { laps: riding.laps }),
      ...(riderId !== undefined && { rider_id: riderId }),
      ...(loggerId !== undefined && { logger_id: loggerId }),
      ...(outingId !== undefined && { outing_id: outingId }),
      ...(wheelFactor !== undefined && { wheel_factor: wheelFactor }),
    };
    const rows: { id: string }[] = await transaction('run')
      .whereRaw('id = any(?)', [[...runIds]])
      .update({ ...values, version: transaction.raw('version + 1'), updated_at: transaction.fn.now() })
      .returning('id');
    return rows.map(({ id }) => id);
  }

  /** A ride of the ride model is no measurement, and its run says so for ever. */
  async markSimulated(id: string, transaction: Knex): Promise<void> {
    await transaction('run').where({ id }).update({ is_simulated: true });
  }

  async exclude(id: string, version: number, reason: string): Promise<boolean> {
    return this.database.transaction(async (transaction) => {
      if (!(await this.bump(id, version, transaction))) return false;
      await transaction('run_exclusion').insert({ id: uuidv7(), run_id: id, reason });
      return true;
    });
  }

  async include(id: string, version: number): Promise<boolean> {
    return this.database.transaction(async (transaction) => {
      if (!(await this.bump(id, version, transaction))) return false;
      await transaction('run_exclusion')
        .where({ run_id: id })
        .whereNull('undone_at')
        .update({ undone_at: transaction.fn.now() });
      return true;
    });
  }

  private async bump(id: string, version: number, transaction: Knex): Promise<boolean> {
    const count = await transaction('run')
      .where({ id, version })
      .update({ version: version + 1, updated_at: transaction.fn.now() });
    return count > 0;
  }
}

async function markSlotRidden(slotId: string, transaction: Knex): Promise<void> {
  await transaction('plan_slot').where({ id: slotId }).update({ state: 'ridden' });
}

async function standingCorrection(
  runId: string,
  database: Knex,
): Promise<{ id: string; spans: GivenSpanDto[] } | undefined> {
  return database<{ id: string; run_id: string; at: Date; undone_at: Date | null; spans: GivenSpanDto[] }>(
    'run_correction',
  )
    .select('id', 'spans')
    .where({ run_id: runId })
    .whereNull('undone_at')
    .orderBy('at', 'desc')
    .first();
}

/** On a bike without a kit the motor is off: that is known without asking. */
async function assignmentRow(assignment: RunAssignment, transaction: Knex): Promise<AssignmentRow> {
  const row = toAssignmentRow(assignment);
  if (row.way !== null) return row;
  const baseline = (await transaction('setup_revision')
    .where({ id: row.setup_revision_id })
    .whereNull('kit_id')
    .first('id')) as unknown;
  return baseline ? { ...row, way: 'off' } : row;
}
