import type { Knex } from 'knex';
import { TEST_KINDS } from '@ebrix/core/analysis';
import { LISTED_FIGURES, type ListedFigure, type RunQuery, type RunSummary } from '@ebrix/contract';
import { partOf } from '../common/part-of.js';
import { iso, isoOrNull, toColumnName } from '../common/row.js';
import { RIDING_SELECTION, toRiding, type RidingColumns } from './assignment-row.js';

export interface SummaryRow extends RidingColumns {
  id: string;
  version: number;
  log_id: string;
  setup_id: string;
  setup_name: string;
  revision_id: string;
  revision_number: number;
  course_id: string;
  course_name: string;
  outing_id: string;
  outing_title: string;
  outing_date: string;
  test_kind: RunSummary['testKind'];
  file_name: string;
  started_at: Date | null;
  duration_s: number;
  exclusion_reason: string | null;
  exclusion_at: Date | null;
  deleted_at: Date | null;
  wheel_factor: number | null;
  warning_count: number;
  is_simulated: boolean;
  h_key: string | null;
  h_label: string;
  h_value: number;
  h_u: number;
  h_unit: RunUnit;
  [figureColumn: string]: unknown;
}

const alias = (key: ListedFigure): string => `f_${toColumnName(key)}`;

/** A run with all that names it. */
export function joinRuns(database: Knex): Knex.QueryBuilder {
  return database('run as r')
    .join('setup_revision as rev', 'rev.id', 'r.setup_revision_id')
    .leftJoin('run_exclusion as x', (join) => join.on('x.run_id', 'r.id').onNull('x.undone_at'))
    .join('setup as s', 's.id', 'rev.setup_id')
    .join('course as c', 'c.id', 'r.course_id')
    .join('outing as o', 'o.id', 'r.outing_id')
    .join('log as l', 'l.id', 'r.log_id');
}

/** How many runs fit, without joining what only names them. */
export function countRuns(database: Knex, query: RunSearch): Knex.QueryBuilder {
  const count = database('run as r').count('r.id as count');
  filterRuns(database, count, query);
  return count;
}

function joinFigure(query: Knex.QueryBuilder, key: ListedFigure): string {
  const name = alias(key);
  void query.leftJoin(`figure as ${name}`, (join) => join.on(`${name}.run_id`, 'r.id').andOnVal(`${name}.key`, key));
  return name;
}

/** Which figure of a run lists show, by its kind: constants of the program, not words of a user. */
const HEADLINE_KEY = `case r.test_kind ${Object.entries(TEST_KINDS)
  .map(([kind, { headline }]) => `when '${kind}' then '${headline}'`)
  .join(' ')} end`;

/** The columns of a run as lists show it. */
export function selectSummaries(database: Knex): Knex.QueryBuilder {
  const query = joinRuns(database).select(
    'r.id',
    'r.version',
    'r.log_id',
    's.id as setup_id',
    's.name as setup_name',
    'rev.id as revision_id',
    'rev.number as revision_number',
    'c.id as course_id',
    'c.name as course_name',
    'o.id as outing_id',
    'o.title as outing_title',
    'o.date as outing_date',
    'r.test_kind',
    'r.is_simulated',
    ...RIDING_SELECTION,
    'l.file_name',
    'l.started_at',
    database.raw('coalesce(r.to_s - r.from_s, l.duration_s) as duration_s'),
    'x.reason as exclusion_reason',
    'x.at as exclusion_at',
    'r.deleted_at',
    'r.wheel_factor',
    database.raw('jsonb_array_length(r.warnings) as warning_count'),
  );
  void query
    .leftJoin('figure as h', (join) =>
      join.on('h.run_id', 'r.id').andOn('h.key', database.raw(HEADLINE_KEY) as unknown as string),
    )
    .select(
      'h.key as h_key',
      'h.label as h_label',
      'h.value as h_value',
      'h.standard_uncertainty as h_u',
      'h.unit as h_unit',
    );
  for (const key of LISTED_FIGURES) {
    const name = joinFigure(query, key);
    void query.select(
      `${name}.value as ${name}_value`,
      `${name}.standard_uncertainty as ${name}_u`,
      `${name}.unit as ${name}_unit`,
    );
  }
  return query;
}

export function filterRuns(database: Knex, query: Knex.QueryBuilder, filters: RunSearch): void {
  const { setup, revision, course, outing, state, kind, way, named } = filters;
  // Deleted runs are in no list but their own.
  void (state === 'deleted' ? query.whereNotNull('r.deleted_at') : query.whereNull('r.deleted_at'));
  if (setup)
    void query.whereIn('r.setup_revision_id', database('setup_revision').select('id').where({ setup_id: setup }));
  if (revision) void query.where('r.setup_revision_id', revision);
  if (course) void query.where('r.course_id', course);
  if (outing) void query.where('r.outing_id', outing);
  if (kind) void query.where('r.test_kind', kind);
  const exclusion = database('run_exclusion as x').whereRaw('x.run_id = r.id').whereNull('x.undone_at');
  if (state === 'simulated') void query.where('r.is_simulated', true);
  else if (state === 'excluded') void query.whereExists(exclusion);
  else if (state === 'counted') void query.whereNotExists(exclusion);
  if (way) void (way === 'unsaid' ? query.whereNull('r.way') : query.where('r.way', way));
  if (named)
    void (named.isBroad ? query.where(hasName(database, named)) : query.whereIn('r.id', namedRuns(database, named)));
}

/** What a text that is searched for was found in the names of. */
interface Named {
  /** The text as a pattern, for names of files: they are as many as runs. */
  readonly pattern: string;
  readonly revisions: readonly string[];
  readonly courses: readonly string[];
  readonly outings: readonly string[];
  /** So much was found that it is quicker to look at every run. */
  readonly isBroad: boolean;
}
const BROAD = { files: 2000, names: 60 };
/** What is asked of runs, with its text looked up. */
export type RunSearch = RunQuery & { readonly named?: Named };

/** Names are few beside runs: they are looked through first, and each leads to its runs by an index. */
export async function searchOf(database: Knex, query: RunQuery): Promise<RunSearch> {
  const text = query.text?.trim();
  if (!text) return query;
  const pattern = partOf(text);
  const ids = async (found: Knex.QueryBuilder): Promise<string[]> =>
    ((await found) as { id: string }[]).map(({ id }) => id);
  const revisions = database('setup_revision as rev').join('setup as s', 's.id', 'rev.setup_id').select('rev.id');
  const found = {
    revisions: await ids(revisions.whereILike('s.name', pattern)),
    courses: await ids(database('course').select('id').whereILike('name', pattern)),
    outings: await ids(database('outing').select('id').whereILike('title', pattern)),
  };
  const files = await ids(database('log').select('id').whereILike('file_name', pattern).limit(BROAD.files));
  const names = found.revisions.length + found.courses.length + found.outings.length;
  return {
    ...query,
    named: { pattern, ...found, isBroad: files.length === BROAD.files || names > BROAD.names },
  };
}

function hasName(database: Knex, { pattern, revisions, courses, outings }: Named): Knex.QueryCallback {
  return (where) =>
    void where
      .whereRaw('r.setup_revision_id in (select unnest(?::uuid[]))', [[...revisions]])
      .orWhereRaw('r.course_id in (select unnest(?::uuid[]))', [[...courses]])
      .orWhereRaw('r.outing_id in (select unnest(?::uuid[]))', [[...outings]])
      .orWhereIn('r.log_id', database('log').select('id').whereILike('file_name', pattern));
}

function namedRuns(database: Knex, { pattern, revisions, courses, outings }: Named): Knex.QueryBuilder {
  const of = (column: string, ids: readonly string[]): Knex.QueryBuilder =>
    database('run')
      .select('id')
      .whereRaw('?? = any(?::uuid[])', [column, [...ids]]);
  return of('setup_revision_id', revisions).unionAll([
    of('course_id', courses),
    of('outing_id', outings),
    database('run').select('id').whereIn('log_id', database('log').select('id').whereILike('file_name', pattern)),
  ]);
}

export function toSummary(row: SummaryRow): RunSummary {
  const figures: RunSummary['figures'] = {};
  for (const key of LISTED_FIGURES) {
    const name = alias(key);
    const value = row[`${name}_value`] as number | null;
    if (value !== null)
      figures[key] = { value, standardUncertainty: row[`${name}_u`] as number, unit: row[`${name}_unit`] as RunUnit };
  }
  return {
    id: row.id,
    version: row.version,
    setup: { id: row.setup_id, name: row.setup_name, revisionId: row.revision_id, revisionNumber: row.revision_number },
    course: { id: row.course_id, name: row.course_name },
    outing: { id: row.outing_id, title: row.outing_title, date: row.outing_date },
    testKind: row.test_kind,
    riding: toRiding(row),
    isSimulated: row.is_simulated,
    fileName: row.file_name,
    startedAt: isoOrNull(row.started_at),
    durationS: row.duration_s,
    exclusion: row.exclusion_reason === null ? null : { reason: row.exclusion_reason, at: iso(row.exclusion_at!) },
    figures,
    headline:
      row.h_key === null
        ? null
        : { key: row.h_key, label: row.h_label, value: row.h_value, standardUncertainty: row.h_u, unit: row.h_unit },
    warningCount: row.warning_count,
    wheelFactor: row.wheel_factor,
    deletedAt: isoOrNull(row.deleted_at),
  };
}
type RunUnit = NonNullable<RunSummary['figures'][ListedFigure]>['unit'];
