import type { Knex } from 'knex';

export const name = '0022-many-runs';

/** Indexes for lists of many runs: each is read in its order, counted without its table, and searched by a part of a file's name. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create index outing_date on outing (date, id);
    create index setup_by_name on setup (name, id);
    create index course_by_name on course (name, id);
    create index log_file_name on log (file_name, id);
    drop index figure_value;
    create index figure_value on figure (key, value, run_id);
    drop index run_course;
    create index run_course on run (course_id) include (deleted_at);
    drop index run_outing;
    create index run_outing on run (outing_id) include (deleted_at);
    drop index run_revision;
    create index run_revision on run (setup_revision_id, course_id) include (deleted_at);
    create index run_log on run (log_id);
    create index run_living on run (id) where deleted_at is null;
    create index ride_created on ride (created_at);
    create index trial_listed on trial ((archived_at is not null), id desc);
  `);
  if (await mayIndexParts(knex))
    await knex.raw('create index log_file_name_parts on log using gin (file_name gin_trgm_ops)');
}

/** An extension that comes with the database; where a user may not have it, parts of names are searched as before. */
async function mayIndexParts(knex: Knex): Promise<boolean> {
  try {
    await knex.transaction((nested) => nested.raw('create extension if not exists pg_trgm'));
    return true;
  } catch {
    return false;
  }
}
