import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { Figure } from '@ebrix/core/tests';
import type {
  CleaningReportDto,
  FigureDto,
  GivenSpanDto,
  MappingDto,
  RepeatedFigure,
  RunAssignment,
  RunDetail,
  RunQuery,
  RunSummary,
} from '@ebrix/contract';
import type { Analysis } from '../compute/tasks.js';
import { iso, isoOrNull } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import { filterRuns, joinRuns, selectPage, selectSummaries, toSummary, type SummaryRow } from './run-query.js';

export interface RunForAnalysis {
  readonly bytes: Buffer;
  readonly mapping: MappingDto | null;
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
  hand: RunAssignment['hand'];
  from_s: number | null;
  to_s: number | null;
}
interface DetailRow extends AssignmentRow {
  log_id: string;
  method_name: string;
  method_version: string;
  warnings: RunDetail['warnings'];
  findings: Pick<RunDetail, 'pictures' | 'spans'>;
  analysis_asked_at: Date | null;
  cleaning: CleaningReportDto;
  sha256: string;
  byte_count: number;
  rider_name: string | null;
  logger_name: string | null;
}
interface FigureRow {
  key: string;
  label: string;
  value: number;
  unit: FigureDto['unit'];
  standard_uncertainty: number;
  interval_lower: number;
  interval_upper: number;
  n: number;
  method_name: string;
  method_version: string;
  warnings: FigureDto['warnings'];
  derivation: FigureDto['derivation'];
  computed_at: Date;
}
interface RepeatedRow {
  id: string;
  test_kind: RepeatedFigure['testKind'];
  course_id: string;
  course_name: string;
  revision_number: number;
  key: string;
  label: string;
  unit: RepeatedFigure['unit'];
  value: number;
  standard_uncertainty: number;
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
  'hand',
  'from_s',
  'to_s',
] as const;

@Injectable()
export class RunRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

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
    await this.insertFigures(id, analysis, transaction);
    return id;
  }

  /** New figures in place of the old, which go into the history where they differ; true when any did. */
  async replaceFigures(runId: string, analysis: Analysis, transaction: Knex): Promise<boolean> {
    const old = await transaction<FigureRow>('figure')
      .select('key', 'value', 'unit', 'standard_uncertainty', 'method_name', 'method_version', 'computed_at')
      .where({ run_id: runId } as object);
    const now = new Map(analysis.figures.map((figure): [string, Figure] => [figure.key, figure]));
    const replaced = old.filter(({ key, value, standard_uncertainty: u }) => {
      const figure = now.get(key);
      return !figure || figure.value !== value || figure.standardUncertainty !== u;
    });
    if (replaced.length > 0)
      await transaction('figure_history').insert(replaced.map((row) => ({ id: uuidv7(), run_id: runId, ...row })));
    await transaction('figure').where({ run_id: runId }).delete();
    await this.insertFigures(runId, analysis, transaction);
    await transaction('run')
      .where({ id: runId })
      .update({
        method_name: analysis.method.name,
        method_version: analysis.method.version,
        warnings: JSON.stringify(analysis.warnings),
        findings: findingsOf(analysis),
        analysis_asked_at: null,
        updated_at: transaction.fn.now(),
      });
    return replaced.length > 0;
  }

  /** Marks a run whose figures are to be worked out again, so that pages know those shown are the ones before. */
  async askForAnalysis(id: string): Promise<void> {
    await this.database('run').where({ id }).update({ analysis_asked_at: this.database.fn.now() });
  }

  /** Stretches as a tester set them; false when the version is no longer the stored one. */
  async correct(id: string, version: number, spans: readonly GivenSpanDto[], what: string): Promise<boolean> {
    return this.database.transaction(async (transaction) => {
      if (!(await this.bump(id, version, transaction))) return false;
      await transaction('run_correction').insert({ id: uuidv7(), run_id: id, spans: JSON.stringify(spans), what });
      return true;
    });
  }

  /** Takes the newest correction back, so that the one before it, or what the program found, holds; false on another version. */
  async undoCorrection(id: string, version: number): Promise<boolean> {
    return this.database.transaction(async (transaction) => {
      if (!(await this.bump(id, version, transaction))) return false;
      const newest = await standingCorrection(id, transaction);
      if (newest)
        await transaction('run_correction').where({ id: newest.id }).update({ undone_at: transaction.fn.now() });
      return true;
    });
  }

  private async insertFigures(runId: string, { figures, method }: Analysis, transaction: Knex): Promise<void> {
    if (figures.length === 0) return;
    await transaction('figure').insert(
      figures.map((figure, position) => ({
        run_id: runId,
        key: figure.key,
        position,
        label: figure.label,
        value: figure.value,
        unit: figure.unit,
        standard_uncertainty: figure.standardUncertainty,
        interval_lower: figure.interval95[0],
        interval_upper: figure.interval95[1],
        n: figure.n,
        method_name: method.name,
        method_version: method.version,
        warnings: JSON.stringify(figure.warnings),
        derivation: JSON.stringify(figure.derivation),
      })),
    );
  }

  async list(query: RunQuery): Promise<{ items: RunSummary[]; total: number }> {
    const count = joinRuns(this.database).count<{ count: string }[]>('r.id as count');
    filterRuns(count, query);
    const [page, [counted]] = await Promise.all([
      selectPage(this.database, query) as unknown as Promise<{ id: string }[]>,
      count,
    ]);
    const ids = page.map(({ id }) => id);
    const rows = (await selectSummaries(this.database).whereIn('r.id', ids)) as SummaryRow[];
    const byId = new Map(rows.map((row) => [row.id, toSummary(row)]));
    // A run deleted between the two questions is simply not there.
    return { items: ids.flatMap((id) => byId.get(id) ?? []), total: Number(counted!.count) };
  }

  /** All runs of some setup revisions, on one course or on any. */
  async listOfRevisions(revisionIds: readonly string[], courseId: string | null): Promise<RunSummary[]> {
    const query = selectSummaries(this.database).whereIn('rev.id', revisionIds);
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
        'r.analysis_asked_at',
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
      hand: detail.hand,
      stretch: toStretch(detail),
      spans: detail.findings.spans,
      pictures: detail.findings.pictures,
      corrections: corrections.map(({ what, at, undone_at: undoneAt }) => ({
        what,
        at: iso(at),
        undoneAt: isoOrNull(undoneAt),
      })),
      isBeingWorkedOut: detail.analysis_asked_at !== null,
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

  async figuresOf(
    runIds: readonly string[],
    key: string,
  ): Promise<
    Map<
      string,
      { value: number; standardUncertainty: number; label: string; unit: FigureDto['unit']; systematic: number }
    >
  > {
    const rows = await this.database<FigureRow & { run_id: string }>('figure')
      .select('run_id', 'value', 'standard_uncertainty', 'label', 'unit', 'derivation')
      .whereIn('run_id', runIds)
      .andWhere({ key } as object);
    return new Map(
      rows.map((row) => [
        row.run_id,
        {
          value: row.value,
          standardUncertainty: row.standard_uncertainty,
          label: row.label,
          unit: row.unit,
          systematic: Math.hypot(
            ...row.derivation.contributions.filter((c) => c.isSystematic).map((c) => c.standardUncertainty),
          ),
        },
      ]),
    );
  }

  /** Some figures of all counted runs of a setup, by kind of test and course. */
  async repeatedFigures(setupId: string, keys: readonly string[]): Promise<RepeatedFigure[]> {
    const rows = await joinRuns(this.database)
      .join('figure as f', 'f.run_id', 'r.id')
      .where('s.id', setupId)
      .whereNull('x.id')
      .whereIn('f.key', [...keys])
      .orderBy(['r.test_kind', 'c.name', 'f.position', 'o.date', 'r.id'])
      .select<RepeatedRow[]>(
        'r.id',
        'r.test_kind',
        'c.id as course_id',
        'c.name as course_name',
        'rev.number as revision_number',
        'f.key',
        'f.label',
        'f.unit',
        'f.value',
        'f.standard_uncertainty',
      );
    const groups = new Map<string, RepeatedFigure>();
    for (const row of rows) {
      const at = [row.test_kind, row.course_id, row.key].join(' ');
      const group = groups.get(at) ?? {
        testKind: row.test_kind,
        course: { id: row.course_id, name: row.course_name },
        key: row.key,
        label: row.label,
        unit: row.unit,
        revisionNumbers: [],
        runs: [],
      };
      groups.set(at, group);
      group.runs.push({ id: row.id, value: row.value, standardUncertainty: row.standard_uncertainty });
      if (!group.revisionNumbers.includes(row.revision_number)) group.revisionNumbers.push(row.revision_number);
    }
    return [...groups.values()];
  }

  /** A figure of the other counted runs of the same kind on the same course. */
  async othersLike(run: RunSummary, key: string): Promise<number[]> {
    const rows = await joinRuns(this.database)
      .join('figure as f', 'f.run_id', 'r.id')
      .select<{ value: number }[]>('f.value')
      .where({ 'f.key': key, 'r.test_kind': run.testKind, 'c.id': run.course.id })
      .whereNot('r.id', run.id)
      .whereNull('x.id')
      .limit(500);
    return rows.map(({ value }) => value);
  }

  /** Of these runs, those ridden until the pack was empty. */
  async emptiedOf(runIds: readonly string[]): Promise<Set<string>> {
    const rows = await this.database<{ id: string; emptied: boolean }>('run')
      .select('id')
      .whereIn('id', runIds)
      .andWhere({ emptied: true });
    return new Set(rows.map(({ id }) => id));
  }

  async loggersOf(runIds: readonly string[]): Promise<Map<string, string | null>> {
    const rows = await this.database<{ id: string; logger_id: string | null }>('run')
      .select('id', 'logger_id')
      .whereIn('id', runIds);
    return new Map(rows.map(({ id, logger_id: loggerId }) => [id, loggerId]));
  }

  async findForAnalysis(id: string): Promise<RunForAnalysis | undefined> {
    const row = (await this.database('run as r')
      .join('log as l', 'l.id', 'r.log_id')
      .select(...ASSIGNMENT.map((column) => `r.${column}`), 'l.bytes', 'l.mapping')
      .where('r.id', id)
      .first()) as (AssignmentRow & { bytes: Buffer; mapping: MappingDto | null }) | undefined;
    if (!row) return undefined;
    const correction = await standingCorrection(id, this.database);
    return {
      bytes: row.bytes,
      mapping: row.mapping,
      assignment: toAssignment(row),
      spans: correction?.spans ?? [],
    };
  }

  /** False when the version is no longer the stored one. */
  async assign(id: string, version: number, assignment: RunAssignment): Promise<boolean> {
    const count = await this.database('run')
      .where({ id, version })
      .update({ ...toAssignmentRow(assignment), version: version + 1, updated_at: this.database.fn.now() });
    return count > 0;
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
    hand: a.hand,
    from_s: a.stretch?.fromS ?? null,
    to_s: a.stretch?.toS ?? null,
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
    hand: row.hand,
    stretch: toStretch(row),
  };
}

function toStretch({ from_s: fromS, to_s: toS }: AssignmentRow): RunAssignment['stretch'] {
  return fromS === null || toS === null ? null : { fromS, toS };
}

function findingsOf({ spans, pictures }: Analysis): string {
  return JSON.stringify({ spans, pictures });
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

function toFigure(row: FigureRow): FigureDto {
  return {
    key: row.key,
    label: row.label,
    value: row.value,
    unit: row.unit,
    standardUncertainty: row.standard_uncertainty,
    interval95: [row.interval_lower, row.interval_upper],
    n: row.n,
    derivation: row.derivation,
    warnings: row.warnings,
  };
}
