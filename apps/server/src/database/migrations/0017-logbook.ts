import type { Knex } from 'knex';

export const name = '0017-logbook';

/** Life after fitting: conversions that are out of sight, and what was written down of bikes in use. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table conversion (
      id uuid primary key, name text not null check (length(name) between 1 and 80), kit text not null default '',
      motor_kind text check (motor_kind in ('front-hub','rear-hub-geared','rear-hub-direct','mid')), pack text not null default '',
      used_for text not null default '', fitted_on date, km double precision check (km >= 0), km_on date, notes text not null default '',
      version integer not null default 1, updated_at timestamptz not null default now(), archived_at timestamptz,
      check (km is null or km_on is not null)
    );
    create unique index conversion_name on conversion (lower(name)) where archived_at is null;
    create table log_entry (
      id uuid primary key,
      setup_id uuid references setup on delete cascade, bike_id uuid references bike on delete cascade,
      conversion_id uuid references conversion on delete cascade, check (num_nonnulls(setup_id, bike_id, conversion_id) = 1),
      kind text not null check (kind in
        ('odometer','charge','fault','replacement','service','inspection','accident','follow-up','note','fitted','taken-off')),
      day date not null, odometer_km double precision check (odometer_km >= 0),
      cost_amount double precision check (cost_amount >= 0), cost_currency text, check ((cost_amount is null) = (cost_currency is null)),
      written_by text not null default '', source text unique, details jsonb not null,
      version integer not null default 1, created_at timestamptz not null default now(), updated_at timestamptz not null default now()
    );
    create index log_entry_day on log_entry (day desc, id desc);
    create index log_entry_setup on log_entry (setup_id, day desc, id desc) where setup_id is not null;
    create index log_entry_bike on log_entry (bike_id, day desc, id desc) where bike_id is not null;
    create index log_entry_conversion on log_entry (conversion_id, day desc, id desc) where conversion_id is not null;
    -- By subject a number that moves with every change of its entries: what was worked out from them stays until it does.
    create table logbook_change (subject uuid primary key, n bigint not null);
    create function count_logbook_change() returns trigger language plpgsql as $$
      begin
        -- One writer at a time: two that touch the same subjects in turn would wait for each other.
        perform pg_advisory_xact_lock(4180002);
        insert into logbook_change
          select distinct coalesce(setup_id, bike_id, conversion_id), 1 from changed
          on conflict (subject) do update set n = logbook_change.n + 1;
        return null;
      end $$;
    create trigger log_entry_added after insert on log_entry
      referencing new table as changed for each statement execute function count_logbook_change();
    create trigger log_entry_left after delete on log_entry
      referencing old table as changed for each statement execute function count_logbook_change();
    create trigger log_entry_moved_from after update on log_entry
      referencing old table as changed for each statement execute function count_logbook_change();
    create trigger log_entry_moved_to after update on log_entry
      referencing new table as changed for each statement execute function count_logbook_change();
    alter table photo add column log_entry_id uuid references log_entry on delete cascade;
    alter table photo drop constraint photo_check;
    alter table photo add constraint photo_owner
      check (num_nonnulls(setup_id, bike_id, kit_id, pack_id, charger_id, add_on_id, log_entry_id) = 1);
    create index photo_log_entry on photo (log_entry_id) where log_entry_id is not null;
  `);
}
