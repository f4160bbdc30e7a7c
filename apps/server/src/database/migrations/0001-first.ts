import type { Knex } from 'knex';

export const name = '0001-first';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table setting (key text primary key, value jsonb not null);
    create table bike (
      id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(), archived_at timestamptz,
      name text not null check (name <> ''), mass_kg double precision check (mass_kg > 0),
      wheel_circumference_m double precision check (wheel_circumference_m > 0),
      drag_area_m2 double precision check (drag_area_m2 > 0), rolling_coefficient double precision check (rolling_coefficient > 0),
      notes text not null default ''
    );
    create table kit (
      id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(), archived_at timestamptz,
      name text not null check (name <> ''), motor_kind text not null check (motor_kind in ('front-hub','rear-hub-geared','rear-hub-direct','mid')),
      rated_power_w double precision check (rated_power_w > 0), nominal_voltage_v double precision check (nominal_voltage_v > 0),
      current_limit_a double precision check (current_limit_a > 0), mass_kg double precision check (mass_kg > 0),
      notes text not null default ''
    );
    create table pack (
      id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(), archived_at timestamptz,
      name text not null check (name <> ''), chemistry text not null check (chemistry in ('li-ion-nmc','li-ion-lfp','lead-acid')),
      series_cells integer check (series_cells between 1 and 40), nominal_voltage_v double precision check (nominal_voltage_v > 0),
      capacity_ah double precision check (capacity_ah > 0), usable_share double precision check (usable_share between 0 and 1),
      measured_energy_wh double precision check (measured_energy_wh > 0),
      measured_energy_uncertainty_wh double precision check (measured_energy_uncertainty_wh > 0),
      mass_kg double precision check (mass_kg > 0), notes text not null default ''
    );
    create table rider (
      id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(), archived_at timestamptz,
      name text not null check (name <> ''), mass_kg double precision check (mass_kg > 0), notes text not null default ''
    );
    create table logger (
      id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(), archived_at timestamptz,
      name text not null check (name <> ''), voltage_gain double precision check (voltage_gain between 0 and 1),
      current_gain double precision check (current_gain between 0 and 1), current_offset_a double precision check (current_offset_a >= 0),
      distance_gain double precision check (distance_gain between 0 and 1), altitude_m double precision check (altitude_m >= 0),
      calibration text not null default '', notes text not null default ''
    );
    create unique index bike_name on bike (lower(name)) where archived_at is null;
    create unique index kit_name on kit (lower(name)) where archived_at is null;
    create unique index pack_name on pack (lower(name)) where archived_at is null;
    create unique index rider_name on rider (lower(name)) where archived_at is null;
    create unique index logger_name on logger (lower(name)) where archived_at is null;

    create table setup (
      id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(), archived_at timestamptz,
      name text not null check (name <> ''), notes text not null default ''
    );
    create unique index setup_name on setup (lower(name)) where archived_at is null;
    create table setup_revision (
      id uuid primary key, setup_id uuid not null references setup on delete cascade, number integer not null check (number > 0),
      bike_id uuid not null references bike, kit_id uuid not null references kit,
      settings jsonb not null, change text not null check (change <> ''),
      -- The parts as they were on that day: editing a part later does not rewrite what was ridden.
      parts jsonb not null,
      created_at timestamptz not null default now(), unique (setup_id, number)
    );
    create table setup_revision_pack (
      revision_id uuid not null references setup_revision on delete cascade, pack_id uuid not null references pack,
      position integer not null, primary key (revision_id, position)
    );

    create table course (
      id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(), archived_at timestamptz,
      name text not null check (name <> ''), kind text not null check (kind in ('loop','out-and-back','one-way','flat-strip','climb')),
      length_m double precision check (length_m > 0),
      surface text not null check (surface in ('asphalt','paving','cobbles','gravel','earth','mixed')),
      notes text not null default '', track jsonb
    );
    create unique index course_name on course (lower(name)) where archived_at is null;
    create table outing (
      id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(), archived_at timestamptz,
      title text not null default '', date date not null,
      air_temperature_c double precision, air_pressure_hpa double precision check (air_pressure_hpa > 0),
      relative_humidity double precision check (relative_humidity between 0 and 1), wind_mps double precision check (wind_mps >= 0),
      notes text not null default ''
    );

    create table logger_profile (
      id uuid primary key, name text not null check (name <> ''), signature text not null, signature_hash text not null unique,
      mapping jsonb not null, updated_at timestamptz not null default now()
    );
    create table log (
      id uuid primary key, sha256 text not null unique, file_name text not null, bytes bytea not null, byte_count integer not null,
      format text not null, mapping jsonb, cleaning jsonb not null, has_clock boolean not null, started_at timestamptz,
      duration_s double precision not null, sample_count integer not null, created_at timestamptz not null default now()
    );
    create table channel (
      log_id uuid not null references log on delete cascade, name text not null, encoding text not null check (encoding in ('f32','f64')),
      sample_count integer not null, samples bytea not null, pyramid bytea not null, primary key (log_id, name)
    );
    -- Uncompressed, so that a stretch of a long ride is read without the rest of it.
    alter table channel alter column samples set storage external;
    alter table channel alter column pyramid set storage external;
    alter table log alter column bytes set storage external;

    create table run (
      id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(),
      log_id uuid not null references log, setup_revision_id uuid not null references setup_revision,
      course_id uuid not null references course, outing_id uuid not null references outing,
      rider_id uuid references rider, logger_id uuid references logger,
      test_kind text not null check (test_kind in ('range')), total_mass_kg double precision check (total_mass_kg > 0),
      emptied boolean not null default false, gauge jsonb,
      rule_of_thumb_wh_per_km double precision check (rule_of_thumb_wh_per_km > 0), notes text not null default '',
      method_name text not null, method_version text not null, warnings jsonb not null,
      created_at timestamptz not null default now(), unique (log_id, test_kind)
    );
    create index run_revision on run (setup_revision_id);
    create index run_course on run (course_id);
    create index run_outing on run (outing_id);
    create table run_exclusion (
      id uuid primary key, run_id uuid not null references run on delete cascade, reason text not null check (length(reason) >= 5),
      at timestamptz not null default now(), undone_at timestamptz
    );
    create unique index run_exclusion_open on run_exclusion (run_id) where undone_at is null;
    create table figure (
      run_id uuid not null references run on delete cascade, key text not null, position integer not null, label text not null,
      value double precision not null, unit text not null, standard_uncertainty double precision not null check (standard_uncertainty >= 0),
      interval_lower double precision not null, interval_upper double precision not null, n integer not null,
      method_name text not null, method_version text not null, seed bigint, warnings jsonb not null, derivation jsonb not null,
      computed_at timestamptz not null default now(), primary key (run_id, key)
    );
    create index figure_value on figure (key, value);
    create table figure_history (
      id uuid primary key, run_id uuid not null references run on delete cascade, key text not null, value double precision not null,
      unit text not null, standard_uncertainty double precision not null, method_name text not null, method_version text not null,
      computed_at timestamptz not null, replaced_at timestamptz not null default now()
    );
    create index figure_history_run on figure_history (run_id);

    create table import_file (
      id uuid primary key, file_name text not null, sha256 text not null, byte_count integer not null, bytes bytea,
      status text not null check (status in ('staged','refused','known','queued','working','done','failed','cancelled')),
      step text not null default '', inspection jsonb, problem jsonb, mapping jsonb, assignment jsonb, profile_name text,
      run_id uuid references run on delete set null, created_at timestamptz not null default now(), updated_at timestamptz not null default now()
    );
    create index import_file_created on import_file (created_at);

    create table trial (
      id uuid primary key, version integer not null default 1, updated_at timestamptz not null default now(), archived_at timestamptz,
      question text not null check (question <> ''), deciding_figure text not null,
      smallest_difference_kind text not null check (smallest_difference_kind in ('absolute','relative')),
      smallest_difference double precision not null check (smallest_difference > 0),
      course_id uuid references course, notes text not null default ''
    );
    create table trial_setup (
      trial_id uuid not null references trial on delete cascade, position integer not null check (position between 0 and 5),
      revision_id uuid not null references setup_revision, primary key (trial_id, position), unique (trial_id, revision_id)
    );
  `);
}
