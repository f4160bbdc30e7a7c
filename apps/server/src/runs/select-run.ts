import type { Knex } from 'knex';
import type { CleaningReportDto, RunDetail, RunSummary } from '@ebrix/contract';
import { iso, isoOrNull } from '../common/row.js';
import { ASSIGNMENT_COLUMNS, toLogSpan, type AssignmentRow } from './assignment-row.js';
import { toFigure, type FigureRow } from './run-figure.repository.js';
import { selectSummaries, toSummary, type SummaryRow } from './run-query.js';

/** What a run has beside its summary; channels and trials are added by the service. */
export type StoredRun = Omit<RunDetail, 'channels' | 'trials' | keyof RunSummary> & {
  readonly summary: RunSummary;
  readonly logId: string;
  readonly channelNames: readonly string[];
};

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
/** All that is stored of one run; undefined when it is gone. One query after the other: a transaction is one connection. */
export async function selectRun(snapshot: Knex, id: string): Promise<StoredRun | undefined> {
  const summary = (await selectSummaries(snapshot).where('r.id', id).first()) as SummaryRow | undefined;
  if (!summary) return undefined;
  const detail = (await snapshot('run as r')
    .join('log as l', 'l.id', 'r.log_id')
    .leftJoin('rider', 'rider.id', 'r.rider_id')
    .leftJoin('logger', 'logger.id', 'r.logger_id')
    .select<DetailRow[]>(
      ...ASSIGNMENT_COLUMNS.map((column) => `r.${column}`),
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
    isPartWay: detail.is_part_way,
    gauge: detail.gauge,
    ruleOfThumbWhPerKm: detail.rule_of_thumb_wh_per_km,
    tyrePressureBar: detail.tyre_pressure_bar,
    perceivedEffort: detail.perceived_effort,
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
