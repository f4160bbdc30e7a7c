import type { Knex } from 'knex';

export const name = '0003-plan-and-ride';

const KINDS = [
  'range',
  'assist-levels',
  'top-speed',
  'hill-climb',
  'assist-response',
  'heating',
  'battery',
  'coast-down',
  'stand',
];
const STATES = ['preparing', 'armed', 'running', 'finished', 'kept', 'repeated', 'aborted'];
const MARKS = [
  'start',
  'lap',
  'finish',
  'event',
  'temperature',
  'gauge',
  'voltage',
  'heart-rate',
  'level',
  'note',
  'brake-trouble',
];
const words = (list: readonly string[]): string => list.map((word) => `'${word}'`).join(',');

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table course
      add column cautions text not null default '', add column permission text not null default '',
      add column wind_exposure text check (wind_exposure in ('sheltered','mixed','open')),
      add column is_both_ways boolean not null default false,
      add column guessed_grade_deg double precision check (guessed_grade_deg between -45 and 45),
      add column gates jsonb not null default '[]' check (jsonb_typeof(gates) = 'array');
    alter table outing add column wind_from_deg double precision check (wind_from_deg between 0 and 360);

    alter table trial
      add column further_figures jsonb not null default '[]', add column held_equal jsonb not null default '[]',
      add column recorded jsonb not null default '[]';
    create table plan (
      trial_id uuid primary key references trial on delete cascade, version integer not null default 1,
      updated_at timestamptz not null default now(), input jsonb not null
    );
    create table plan_slot (
      id uuid primary key, trial_id uuid not null references plan on delete cascade,
      outing integer not null check (outing > 0), position integer not null check (position > 0),
      revision_id uuid not null references setup_revision, test integer not null check (test >= 0),
      direction smallint not null check (direction in (1, -1)),
      state text not null default 'planned' check (state in ('planned','underway','ridden','dropped')),
      is_out_of_order boolean not null default false,
      constraint plan_slot_place unique (trial_id, outing, position) deferrable initially deferred
    );
    create index plan_slot_revision on plan_slot (revision_id);
    create table plan_change (
      id uuid primary key, trial_id uuid not null references plan on delete cascade, at timestamptz not null default now(),
      what text not null, why text not null default ''
    );
    create index plan_change_trial on plan_change (trial_id);

    alter table run drop constraint run_test_kind_check;
    alter table run
      add constraint run_test_kind_check check (test_kind in (${words(KINDS)})),
      add column direction smallint not null default 1 check (direction in (1, -1)),
      add column slot_id uuid references plan_slot on delete set null, add column hand jsonb;
    create index run_slot on run (slot_id);

    create table logger_session (
      id uuid primary key, logger_id uuid not null references logger, name text not null check (name <> ''),
      channels jsonb not null, units jsonb not null, pace double precision not null default 1 check (pace > 0),
      duplicates integer not null default 0, late integer not null default 0, bad integer not null default 0,
      bad_lines jsonb not null default '[]', is_ended boolean not null default false,
      created_at timestamptz not null default now(), last_seen_at timestamptz not null default now(), unique (logger_id, name)
    );
    -- What came in within a fraction of a second, of one session: never a row per sample.
    create table sample_chunk (
      id bigint generated always as identity primary key, session_id uuid not null references logger_session on delete cascade,
      ranges jsonb not null, sample_count integer not null check (sample_count > 0), from_t double precision not null,
      to_t double precision not null, received_at timestamptz not null, lines text not null
    );
    create index sample_chunk_session on sample_chunk (session_id, id);

    create table ride (
      id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(),
      created_at timestamptz not null default now(), state text not null default 'preparing' check (state in (${words(STATES)})),
      slot_id uuid references plan_slot on delete set null, revision_id uuid not null references setup_revision,
      course_id uuid not null references course, test_kind text not null check (test_kind in (${words(KINDS)})),
      direction smallint not null check (direction in (1, -1)), level text not null default '', effort text not null,
      laps integer not null default 1 check (laps > 0), outing_id uuid references outing, rider_id uuid references rider,
      logger_id uuid references logger, session_id uuid references logger_session, preparation jsonb not null, after jsonb not null,
      limits jsonb not null, started_at timestamptz, finished_at timestamptz, from_t double precision, to_t double precision,
      start_distance_m double precision, reason text not null default '', run_id uuid references run on delete set null
    );
    -- Two phones that begin the same planned run begin one ride.
    create unique index ride_of_slot on ride (slot_id) where state in ('preparing','armed','running','finished');
    create index ride_state on ride (state);
    create index ride_session on ride (session_id);
    create index ride_run on ride (run_id);
    create table ride_mark (
      id uuid primary key, ride_id uuid not null references ride on delete cascade,
      kind text not null check (kind in (${words(MARKS)})), at timestamptz not null, elapsed_s double precision check (elapsed_s >= 0),
      direction smallint check (direction in (1, -1)), place text check (place in ('motor','controller','battery','air')),
      value double precision, text text not null default '', undone_at timestamptz
    );
    create index ride_mark_ride on ride_mark (ride_id, at);
    alter table import_file add column ride_id uuid references ride on delete set null;
    create index import_file_ride on import_file (ride_id);
  `);
}
