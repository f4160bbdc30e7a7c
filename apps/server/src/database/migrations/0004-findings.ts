import type { Knex } from 'knex';

export const name = '0004-findings';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- No run was ever dropped from a plan by its state: it is taken out.
    update plan_slot set state = 'planned' where state = 'dropped';
    alter table plan_slot drop constraint plan_slot_state_check;
    alter table plan_slot add constraint plan_slot_state_check check (state in ('planned','underway','ridden'));

    alter table run
      add column findings jsonb not null default '{"spans":[],"pictures":[]}',
      add column from_s double precision check (from_s >= 0), add column to_s double precision,
      add column analysis_asked_at timestamptz,
      add constraint run_stretch check ((from_s is null and to_s is null) or to_s > from_s),
      drop constraint run_log_id_test_kind_key;
    -- One log may hold several runs, each of its own stretch.
    create unique index run_of_log on run (log_id, test_kind, coalesce(from_s, 0), coalesce(to_s, 'infinity'));
    create index run_method on run (test_kind, method_name, method_version);

    create table run_correction (
      id uuid primary key, run_id uuid not null references run on delete cascade, at timestamptz not null default now(),
      spans jsonb not null check (jsonb_typeof(spans) = 'array'), what text not null, undone_at timestamptz
    );
    create index run_correction_run on run_correction (run_id, at);

    alter table import_file add column parts jsonb not null default '[]', add column run_count integer not null default 0;

    create table reanalysis (
      id uuid primary key, started_at timestamptz not null default now(), finished_at timestamptz, cancelled_at timestamptz
    );
    create table reanalysis_run (
      reanalysis_id uuid not null references reanalysis on delete cascade, run_id uuid not null references run on delete cascade,
      state text not null default 'waiting' check (state in ('waiting','done','failed')), is_changed boolean not null default false,
      primary key (reanalysis_id, run_id)
    );
    create index reanalysis_run_waiting on reanalysis_run (reanalysis_id) where state = 'waiting';
  `);
}
