import type { Knex } from 'knex';

export const name = '0011-deleted-runs';

/**
 * A run that was deleted stays to be brought back; its part of the log is free for others, which may have been split from it. And a wheel that was set wrong
 * can be put right; a course without a track may have a climb that was typed.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table run add column deleted_at timestamptz, add column split_from uuid references run on delete set null,
      add column is_part_way boolean not null default false,
      add column wheel_factor double precision check (wheel_factor between 0.3 and 3);
    create index run_split_from on run (split_from) where split_from is not null;
    drop index run_of_log;
    create unique index run_of_log on run (log_id, test_kind, coalesce(from_s, 0), coalesce(to_s, 'infinity')) where deleted_at is null;
    create index run_deleted on run (deleted_at) where deleted_at is not null;
    alter table course add column climb_m double precision, add column climb_uncertainty_m double precision
      check (climb_uncertainty_m > 0);
    create table experience_rating (
      id uuid primary key, revision_id uuid not null references setup_revision on delete cascade, rider text not null check (rider <> ''),
      day date not null, phase text not null check (phase in ('before','after')), is_blind boolean not null,
      values jsonb not null, note text not null default '', at timestamptz not null default now()
    );
    create index experience_rating_revision on experience_rating (revision_id);
  `);
}
