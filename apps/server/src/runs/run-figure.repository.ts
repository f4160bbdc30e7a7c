import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { Figure } from '@ebrix/core/analysis';
import type { RepeatedRun } from '@ebrix/core/planning';
import type { FigureDto, RepeatedFigure, RunSummary } from '@ebrix/contract';
import type { Analysis } from '../compute/task-types.js';
import { KNEX } from '../database/database.module.js';
import { joinRuns } from './run-query.js';

export interface FigureRow {
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
  way: RepeatedFigure['way'];
  key: string;
  label: string;
  unit: RepeatedFigure['unit'];
  value: number;
  standard_uncertainty: number;
  interval_lower: number;
  interval_upper: number;
  outing_id: string;
  date: string;
  air_temperature_c: number | null;
}

/** `superseded`: they were asked for again meanwhile, and that later asking stores them. */
export type Replacement = 'changed' | 'same' | 'superseded';

/** Figures of runs: stored with their history, and gathered over runs. */
@Injectable()
export class RunFigureRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async insert(runId: string, { figures, method }: Analysis, transaction: Knex): Promise<void> {
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

  /**
   * New figures in place of the old, which go into the history where they differ. `requestNumber` is the asking that they answer:
   * the row is held, and figures of an earlier asking, worked out from what was true before, are not stored over later ones.
   */
  async replace(runId: string, requestNumber: number, analysis: Analysis, transaction: Knex): Promise<Replacement> {
    const run = await transaction<{ id: string; analyses_requested: number }>('run')
      .select('analyses_requested')
      .where({ id: runId })
      .forUpdate()
      .first();
    if (run?.analyses_requested !== requestNumber) return 'superseded';
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
    await this.insert(runId, analysis, transaction);
    await transaction('run')
      .where({ id: runId })
      .update({
        method_name: analysis.method.name,
        method_version: analysis.method.version,
        warnings: JSON.stringify(analysis.warnings),
        findings: findingsOf(analysis),
        analyses_completed: requestNumber,
        updated_at: transaction.fn.now(),
      });
    return replaced.length > 0 ? 'changed' : 'same';
  }

  /** The figures stay those of before, and the run says why. */
  async giveUp(runId: string, requestNumber: number, warning: { code: string; message: string }): Promise<void> {
    await this.database('run')
      .where({ id: runId })
      .update({
        analyses_completed: this.database.raw('greatest(analyses_completed, ?)', [requestNumber]),
        warnings: this.database.raw(
          "(select coalesce(jsonb_agg(w), '[]') from jsonb_array_elements(warnings) w where w->>'code' <> ?) || ?::jsonb",
          [warning.code, JSON.stringify([warning])],
        ),
      });
  }

  /** Runs whose figures were asked for and are not there yet. */
  async pending(): Promise<string[]> {
    const rows = await this.database('run')
      .select<{ id: string }[]>('id')
      .whereRaw('analyses_completed < analyses_requested');
    return rows.map(({ id }) => id);
  }

  async of(
    runIds: readonly string[],
    key: string,
  ): Promise<
    Map<
      string,
      {
        value: number;
        standardUncertainty: number;
        label: string;
        unit: FigureDto['unit'];
        systematic: number;
        corrections: { source: string; effect: number }[];
      }
    >
  > {
    const rows = await this.database<FigureRow & { run_id: string }>('figure')
      .select('run_id', 'value', 'standard_uncertainty', 'label', 'unit', 'derivation')
      .whereRaw('run_id = any(?)', [[...runIds]])
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
          corrections: row.derivation.contributions.flatMap(({ source, effect }) =>
            effect === undefined ? [] : [{ source, effect }],
          ),
        },
      ]),
    );
  }

  /** Some figures of all counted runs of a setup, by kind of test and course. */
  async repeated(setupId: string, keys: readonly string[]): Promise<RepeatedFigure[]> {
    const rows = await joinRuns(this.database)
      .join('figure as f', 'f.run_id', 'r.id')
      .where('s.id', setupId)
      .whereNull('x.id')
      .where('r.is_simulated', false)
      .whereNull('r.deleted_at')
      .whereIn('f.key', [...keys])
      .orderBy(['r.test_kind', 'c.name', 'f.position', 'o.date', 'r.id'])
      .select<RepeatedRow[]>(
        'r.id',
        'r.test_kind',
        'c.id as course_id',
        'c.name as course_name',
        'rev.number as revision_number',
        'r.way',
        'f.key',
        'f.label',
        'f.unit',
        'f.value',
        'f.standard_uncertainty',
        'f.interval_lower',
        'f.interval_upper',
        'o.id as outing_id',
        'o.date',
        'o.air_temperature_c',
      );
    const groups = new Map<string, RepeatedFigure>();
    for (const row of rows) {
      const at = [row.test_kind, row.course_id, row.way, row.key].join(' ');
      const group = groups.get(at) ?? {
        testKind: row.test_kind,
        course: { id: row.course_id, name: row.course_name },
        way: row.way,
        key: row.key,
        label: row.label,
        unit: row.unit,
        revisionNumbers: [],
        runs: [],
      };
      groups.set(at, group);
      group.runs.push({
        id: row.id,
        value: row.value,
        standardUncertainty: row.standard_uncertainty,
        interval95: [row.interval_lower, row.interval_upper],
        outing: row.outing_id,
        date: row.date,
        airTemperatureC: row.air_temperature_c,
      });
      if (!group.revisionNumbers.includes(row.revision_number)) group.revisionNumbers.push(row.revision_number);
    }
    return [...groups.values()];
  }

  /** A figure of all counted runs, gathered by what is alike beside setup and outing: course, kind of test, way of riding, level. */
  async groupsOf(key: string): Promise<RepeatedRun[][]> {
    const rows = await this.database('run as r')
      .join('figure as f', (join) => join.on('f.run_id', 'r.id').andOnVal('f.key', key))
      .leftJoin('run_exclusion as x', (join) => join.on('x.run_id', 'r.id').onNull('x.undone_at'))
      .whereNull('x.id')
      .where('r.is_simulated', false)
      .whereNull('r.deleted_at')
      .orderBy('r.id')
      .select<{ alike: string; setup: string; outing: string; value: number }[]>(
        this.database.raw("concat_ws(' ', r.course_id, r.test_kind, coalesce(r.way, ''), r.assist_level) as alike"),
        'r.setup_revision_id as setup',
        'r.outing_id as outing',
        'f.value',
      );
    const groups = new Map<string, RepeatedRun[]>();
    for (const { alike, ...run } of rows) {
      const group = groups.get(alike);
      if (group) group.push(run);
      else groups.set(alike, [run]);
    }
    return [...groups.values()];
  }

  /** A figure of the other counted runs of the same kind on the same course. */
  async othersLike(run: RunSummary, key: string): Promise<number[]> {
    const rows = await joinRuns(this.database)
      .join('figure as f', 'f.run_id', 'r.id')
      .select<{ value: number }[]>('f.value')
      .where({ 'f.key': key, 'r.test_kind': run.testKind, 'c.id': run.course.id, 'r.is_simulated': run.isSimulated })
      .whereNot('r.id', run.id)
      .whereNull('x.id')
      .whereNull('r.deleted_at')
      .limit(500);
    return rows.map(({ value }) => value);
  }
}

export function findingsOf({ spans, charts, taught }: Analysis): string {
  return JSON.stringify({ spans, charts, ...(taught && { taught }) });
}

export function toFigure(row: FigureRow): FigureDto {
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
