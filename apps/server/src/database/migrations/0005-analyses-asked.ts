import type { Knex } from 'knex';

export const name = '0005-analyses-asked';

/** A run asked for again while it is being worked out must not be taken for done: counters instead of one moment. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table run
      -- How often its figures were asked for again, and up to which asking they are worked out.
      add column if not exists analyses_asked integer not null default 0,
      add column if not exists analyses_done integer not null default 0;
  `);
  // What was asked for and not worked out yet is still to be worked out.
  if (await knex.schema.hasColumn('run', 'analysis_asked_at'))
    await knex.raw(`
      update run set analyses_asked = 1 where analysis_asked_at is not null;
      alter table run drop column analysis_asked_at;
    `);
  await knex.raw(`
    create index if not exists run_analysis_open on run (id) where analyses_done < analyses_asked;
  `);
}
