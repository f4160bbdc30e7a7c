import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type {
  CleaningReportDto,
  GivenSpanDto,
  MappingDto,
  RunAssignment,
  RunDetail,
  RunQuery,
  RunSummary,
} from '@ebrix/contract';
import type { Analysis } from '../compute/tasks.js';
import { iso, isoOrNull } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import { findingsOf, RunFigureRepository, toFigure, type FigureRow } from './run-figure.repository.js';
import { countRuns, selectIds, selectPage, selectSummaries, toSummary, type SummaryRow } from './run-query.js';

export interface RunForAnalysis {
  readonly bytes: Buffer;
  readonly mapping: MappingDto | null;
  /** Which asking this is: figures of an earlier one are not stored. */
  readonly requestNumber: number;
  /** As a tester set them; empty: all found by the program. */
  readonly spans: readonly GivenSpanDto[];
  readonly assignment: RunAssignment;
}
/** What a run has beside its summary; channels and trials are added by the service. */
export type StoredRun = Omit<RunDetail, 'channels' | 'trials' | keyof RunSummary> & {
  readonly summary: RunSummary;
  readonly logId: string;
  readonly channelNames: readonly string[];
};

interface AssignmentRow {
  setup_revision_id: string;
  course_id: string;
  outing_id: string;
  rider_id: string | null;
  logger_id: string | null;
  test_kind: RunAssignment['testKind'];
  total_mass_kg: number | null;
  emptied: boolean;
  gauge: RunAssignment['gauge'];
  rule_of_thumb_wh_per_km: number | null;
  notes: string;
  direction: RunAssignment['direction'];
  slot_id: string | null;
  manual_readings: RunAssignment['manualReadings'];
  from_s: number | null;
  to_s: number | null;
}
interface DetailRow extends AssignmentRow {
  log_id: string;
  method_name: string;
  method_version: string;
  warnings: RunDetail['warnings'];
  findings: Pick<RunDetail, 'charts' | 'spans'>;
  analyses_requested: number;
  analyses_completed: number;
  cleaning: CleaningReportDto;
  sha256: string;
  byte_count: number;
  rider_name: string | null;
  logger_name: string | null;
}
const ASSIGNMENT = [
  'setup_revision_id',
  'course_id',
  'outing_id',
  'rider_id',
  'logger_id',
  'test_kind',
  'total_mass_kg',
  'emptied',
  'gauge',
  'rule_of_thumb_wh_per_km',
  'notes',
  'direction',
  'slot_id',
  'manual_readings',
  'from_s',
  'to_s',
] as const;

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
      .first();
    return (row as { id: string } | undefined)?.id;
  }

  async insert(logId: string, assignment: RunAssignment, analysis: Analysis, transaction: Knex): Promise<string> {
    const id = uuidv7();
    await transaction('run').insert({
      id,
      log_id: logId,
      ...toAssignmentRow(assignment),
      method_name: analysis.method.name,
      method_version: analysis.method.version,
      warnings: JSON.stringify(analysis.warnings),
      findings: findingsOf(analysis),
    });
    await this.figures.insert(id, analysis, transaction);
    return id;
  }

  /** Stretches as a tester set them; false when the version is no longer the stored one. */
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

  async list(query: RunQuery): Promise<{ items: RunSummary[]; total: number }> {
    const [page, [counted]] = await Promise.all([
      selectPage(this.database, query) as unknown as Promise<{ id: string }[]>,
      countRuns(this.database, query) as unknown as Promise<[{ count: string }]>,
    ]);
    return { items: await this.summariesOf(page.map(({ id }) => id)), total: Number(counted.count) };
  }

  /** In the order of the list, however many. */
  async idsOf(query: RunQuery): Promise<string[]> {
    const rows = (await selectIds(this.database, query)) as { id: string }[];
    return rows.map(({ id }) => id);
  }

  /** In the order of `ids`; a run deleted meanwhile is simply not there. */
  async summariesOf(ids: readonly string[]): Promise<RunSummary[]> {
    const rows: SummaryRow[] = await selectSummaries(this.database).whereRaw('r.id = any(?)', [[...ids]]);
    const byId = new Map(rows.map((row) => [row.id, toSummary(row)]));
    return ids.flatMap((id) => byId.get(id) ?? []);
  }

  /** All runs of some setup revisions, on one course or on any. */
  async listOfRevisions(revisionIds: readonly string[], courseId: string | null): Promise<RunSummary[]> {
    const query = selectSummaries(this.database).whereRaw('rev.id = any(?)', [[...revisionIds]]);
    if (courseId !== null) void query.where('c.id', courseId);
    void query.orderBy('o.date').orderBy('r.id');
    return ((await query) as SummaryRow[]).map(toSummary);
  }

  /** All of a run at one moment: its figures may be replaced while they are read. */
  find(id: string): Promise<StoredRun | undefined> {
    return this.database.transaction((snapshot) => this.findIn(snapshot, id), {
      isolationLevel: 'repeatable read',
      readOnly: true,
    });
  }

  private async findIn(snapshot: Knex, id: string): Promise<StoredRun | undefined> {
    const summary = (await selectSummaries(snapshot).where('r.id', id).first()) as SummaryRow | undefined;
    if (!summary) return undefined;
    // One after the other: a transaction is one connection.
    const detail = (await snapshot('run as r')
      .join('log as l', 'l.id', 'r.log_id')
      .leftJoin('rider', 'rider.id', 'r.rider_id')
      .leftJoin('logger', 'logger.id', 'r.logger_id')
      .select<DetailRow[]>(
        ...ASSIGNMENT.map((column) => `r.${column}`),
        'r.log_id',
        'r.method_name',
        'r.method_version',
        'r.warnings',
        'r.findings',
        'r.analyses_requested',
        'r.analyses_completed',
        'l.cleaning',
        'l.sha256',
        'l.byte_count',
        'rider.name as rider_name',
        'logger.name as logger_name',
      )
      .where('r.id', id)
      .first()) as unknown as DetailRow;
    const figures = await snapshot<FigureRow>('figure')
      .select('*')
      .where({ run_id: id } as object)
      .orderBy('position' as never);
    const channels = await snapshot<{ name: string }>('channel')
      .select('name')
      .where({ log_id: summary.log_id } as object);
    const exclusions = await snapshot<{ reason: string; at: Date; undone_at: Date | null }>('run_exclusion')
      .select('reason', 'at', 'undone_at')
      .where({ run_id: id } as object)
      .orderBy('at', 'desc');
    const corrections = await snapshot<{ what: string; at: Date; undone_at: Date | null }>('run_correction')
      .select('what', 'at', 'undone_at')
      .where({ run_id: id } as object)
      .orderBy('at', 'desc')
      .limit(50);
    const history = await snapshot<FigureRow & { replaced_at: Date }>('figure_history')
      .select('*')
      .where({ run_id: id } as object)
      .orderBy('replaced_at', 'desc')
      .limit(200);
    return {
      summary: toSummary(summary),
      logId: detail.log_id,
      channelNames: channels.map(({ name }) => name),
      rider: detail.rider_id === null ? null : { id: detail.rider_id, name: detail.rider_name! },
      logger: detail.logger_id === null ? null : { id: detail.logger_id, name: detail.logger_name! },
      totalMassKg: detail.total_mass_kg,
      emptied: detail.emptied,
      gauge: detail.gauge,
      ruleOfThumbWhPerKm: detail.rule_of_thumb_wh_per_km,
      notes: detail.notes,
      direction: detail.direction,
      slotId: detail.slot_id,
      manualReadings: detail.manual_readings,
      logSpan: toLogSpan(detail),
      spans: detail.findings.spans,
      charts: detail.findings.charts,
      corrections: corrections.map(({ what, at, undone_at: undoneAt }) => ({
        what,
        at: iso(at),
        undoneAt: isoOrNull(undoneAt),
      })),
      isRecalculating: detail.analyses_completed < detail.analyses_requested,
      method: { name: detail.method_name, version: detail.method_version },
      allFigures: figures.map(toFigure),
      warnings: detail.warnings,
      cleaning: detail.cleaning,
      sha256: detail.sha256,
      byteCount: detail.byte_count,
      exclusionHistory: exclusions.map(({ reason, at, undone_at: undoneAt }) => ({
        reason,
        at: iso(at),
        undoneAt: isoOrNull(undoneAt),
      })),
      figureHistory: history.map((row) => ({
        key: row.key,
        value: row.value,
        unit: row.unit,
        standardUncertainty: row.standard_uncertainty,
        method: { name: row.method_name, version: row.method_version },
        replacedAt: iso(row.replaced_at),
      })),
    };
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
      .select(...ASSIGNMENT.map((column) => `r.${column}`), 'r.analyses_requested', 'l.bytes', 'l.mapping')
      .where('r.id', id)
      .first()) as
      (AssignmentRow & { analyses_requested: number; bytes: Buffer; mapping: MappingDto | null }) | undefined;
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

  /** False when the version is no longer the stored one. */
  async assign(id: string, version: number, assignment: RunAssignment, transaction: Knex): Promise<boolean> {
    const before = await transaction<AssignmentRow & { id: string }>('run').select('test_kind').where({ id }).first();
    if (!(await this.bump(id, version, transaction))) return false;
    await transaction('run').where({ id }).update(toAssignmentRow(assignment));
    // Stretches of a pass say nothing of a climb: another kind of test is found anew.
    if (before && before.test_kind !== assignment.testKind)
      await transaction('run_correction')
        .where({ run_id: id })
        .whereNull('undone_at')
        .update({ undone_at: transaction.fn.now() });
    return true;
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

function toAssignmentRow(a: RunAssignment): AssignmentRow {
  return {
    setup_revision_id: a.setupRevisionId,
    course_id: a.courseId,
    outing_id: a.outingId,
    rider_id: a.riderId,
    logger_id: a.loggerId,
    test_kind: a.testKind,
    total_mass_kg: a.totalMassKg,
    emptied: a.emptied,
    gauge: a.gauge,
    rule_of_thumb_wh_per_km: a.ruleOfThumbWhPerKm,
    notes: a.notes,
    direction: a.direction,
    slot_id: a.slotId,
    manual_readings: a.manualReadings,
    from_s: a.logSpan?.fromS ?? null,
    to_s: a.logSpan?.toS ?? null,
  };
}

function toAssignment(row: AssignmentRow): RunAssignment {
  return {
    setupRevisionId: row.setup_revision_id,
    courseId: row.course_id,
    outingId: row.outing_id,
    riderId: row.rider_id,
    loggerId: row.logger_id,
    testKind: row.test_kind,
    totalMassKg: row.total_mass_kg,
    emptied: row.emptied,
    gauge: row.gauge,
    ruleOfThumbWhPerKm: row.rule_of_thumb_wh_per_km,
    notes: row.notes,
    direction: row.direction,
    slotId: row.slot_id,
    manualReadings: row.manual_readings,
    logSpan: toLogSpan(row),
  };
}

function toLogSpan({ from_s: fromS, to_s: toS }: AssignmentRow): RunAssignment['logSpan'] {
  return fromS === null || toS === null ? null : { fromS, toS };
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
