import type { Knex } from 'knex';
import { z } from 'zod';
import type { ListedFigure, RunQuery } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { filterRuns, type RunSearch } from './run-query.js';

/** Where a page of runs ends: what its last run is sorted by, as text, and the run. Null: it lacks the figure, and stands behind all that have it. */
interface Place {
  readonly key: string | null;
  readonly id: string;
}

export interface RunIds {
  readonly ids: readonly string[];
  /** Places to go on from, as lists are asked for them; null where there is nothing more. */
  readonly next: string | null;
  readonly previous: string | null;
}

/** What a list is sorted by, other than a figure; each is known of every run. */
const SORTED_BY = {
  date: 'o.date',
  setup: 's.name',
  course: 'c.name',
  file: 'l.file_name',
} as const;
type OwnColumn = keyof typeof SORTED_BY;
const isOwn = (sort: RunQuery['sort']): sort is OwnColumn => sort in SORTED_BY;

/** Of each order: its runs, the columns it goes by, and as what a place in it is read. */
interface Order {
  readonly runs: () => Knex.QueryBuilder;
  readonly key: string;
  readonly id: string;
  readonly type: 'date' | 'float8' | 'text';
}

function joinSorted(runs: Knex.QueryBuilder, sort: OwnColumn): Knex.QueryBuilder {
  switch (sort) {
    case 'date':
      return runs.join('outing as o', 'o.id', 'r.outing_id');
    case 'setup':
      return runs
        .join('setup_revision as rev', 'rev.id', 'r.setup_revision_id')
        .join('setup as s', 's.id', 'rev.setup_id');
    case 'course':
      return runs.join('course as c', 'c.id', 'r.course_id');
    case 'file':
      return runs.join('log as l', 'l.id', 'r.log_id');
  }
}

function orderOf(database: Knex, query: RunSearch): Order {
  const { sort } = query;
  const runs = (): Knex.QueryBuilder => {
    const found = isOwn(sort)
      ? joinSorted(database('run as r'), sort)
      : // Along the index of the figure.
        database('figure as f').join('run as r', 'r.id', 'f.run_id').where('f.key', sort);
    filterRuns(database, found, query);
    return found;
  };
  return isOwn(sort)
    ? { runs, key: SORTED_BY[sort], id: 'r.id', type: sort === 'date' ? 'date' : 'text' }
    : { runs, key: 'f.value', id: 'f.run_id', type: 'float8' };
}

type Direction = 'asc' | 'desc';

/** So many runs from a place on. The key alone is compared too, where an index can be entered by it. */
async function along(
  database: Knex,
  { runs, key, id, type }: Order,
  direction: Direction,
  place: Place | undefined,
  count: number,
): Promise<Place[]> {
  const rows = runs().select({ id }, database.raw('??::text as key', [key]));
  if (place) {
    const beyond = direction === 'asc' ? '>' : '<';
    void rows
      .whereRaw(`?? ${beyond}= ?::${type}`, [key, place.key])
      .whereRaw(`(??, ??) ${beyond} (?::${type}, ?::uuid)`, [key, id, place.key, place.id]);
  }
  return (await rows.orderBy(key, direction).orderBy(id, direction).limit(count)) as Place[];
}

/** Runs that lack the figure: by their id, behind those that have it. */
async function without(
  database: Knex,
  query: RunSearch,
  figure: ListedFigure,
  direction: Direction,
  place: Place | undefined,
  count: number,
): Promise<Place[]> {
  const runs = database('run as r').select('r.id', database.raw('null as key'));
  filterRuns(database, runs, query);
  void runs.whereNotExists(database('figure as f').whereRaw('f.run_id = r.id').where('f.key', figure));
  if (place) void runs.where('r.id', direction === 'asc' ? '>' : '<', place.id);
  return (await runs.orderBy('r.id', direction).limit(count)) as Place[];
}

/** From a place on, as the list goes; without one from its beginning. */
async function forward(database: Knex, query: RunSearch, place: Place | undefined, count: number): Promise<Place[]> {
  const direction = query.order === 'up' ? 'asc' : 'desc';
  const { sort } = query;
  if (isOwn(sort)) return along(database, orderOf(database, query), direction, place, count);
  const isBehind = place?.key === null;
  const first = isBehind ? [] : await along(database, orderOf(database, query), direction, place, count);
  if (first.length === count) return first;
  const from = isBehind ? place : undefined;
  return [...first, ...(await without(database, query, sort, direction, from, count - first.length))];
}

/** The runs before a place, the nearest first. */
async function backward(database: Knex, query: RunSearch, place: Place, count: number): Promise<Place[]> {
  const direction = query.order === 'up' ? 'desc' : 'asc';
  const { sort } = query;
  const order = orderOf(database, query);
  if (isOwn(sort) || place.key !== null) return along(database, order, direction, place, count);
  const behind = await without(database, query, sort, direction, place, count);
  if (behind.length === count) return behind;
  return [...behind, ...(await along(database, order, direction, undefined, count - behind.length))];
}

/** Ids of one page of runs: read on from a run and its place, so that the last page is found as soon as the first. Fails: `invalid-request` for a place of another list. */
export async function pageOfRuns(database: Knex, query: RunSearch): Promise<RunIds> {
  const { after, before, pageSize } = query;
  // One more tells whether the list goes on.
  const count = pageSize + 1;
  if (before !== undefined) {
    const found = await backward(database, query, readPlace(before, query), count);
    // What is left before it is less than a page: that is the first page, which is shown full.
    if (found.length === count) return toIds(found.slice(0, pageSize).reverse(), { isFirst: false, isLast: false });
  }
  const place = after === undefined ? undefined : readPlace(after, query);
  const found = await forward(database, query, place, count);
  return toIds(found.slice(0, pageSize), { isFirst: place === undefined, isLast: found.length < count });
}

function toIds(page: readonly Place[], { isFirst, isLast }: { isFirst: boolean; isLast: boolean }): RunIds {
  const [first, last] = [page[0], page.at(-1)];
  return {
    ids: page.map(({ id }) => id),
    next: last && !isLast ? writePlace(last) : null,
    previous: first && !isFirst ? writePlace(first) : null,
  };
}

/** Ids of all runs that fit, in the order of the list. */
export async function idsOfRuns(database: Knex, query: RunSearch): Promise<string[]> {
  return (await forward(database, query, undefined, MOST_RUNS)).map(({ id }) => id);
}
/** More than any list is long. */
const MOST_RUNS = 10_000_000;

function writePlace({ key, id }: Place): string {
  return Buffer.from(JSON.stringify([key, id])).toString('base64url');
}

const KEYS = {
  date: z.iso.date(),
  text: z.string().refine((text) => !text.includes('\0')),
  figure: z
    .string()
    .refine((text) => text.trim() !== '' && Number.isFinite(Number(text)))
    .nullable(),
};

function readPlace(written: string, { sort }: RunQuery): Place {
  const key = KEYS[isOwn(sort) ? (sort === 'date' ? 'date' : 'text') : 'figure'];
  const read = z.tuple([key, z.uuid()]).safeParse(fromJson(Buffer.from(written, 'base64url').toString()));
  if (!read.success)
    throw new DomainError(
      'invalid-request',
      'This place is not one of a list of runs sorted like this one. Begin at its first page.',
    );
  return { key: read.data[0], id: read.data[1] };
}

function fromJson(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
}
