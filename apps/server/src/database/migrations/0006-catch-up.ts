import type { Knex } from 'knex';

export const name = '0006-catch-up';

/**
 * Some migrations were edited after databases had been made by them. This brings every known earlier state to the one form,
 * and from here on a checksum of each applied migration is kept, so that an edit is noticed instead of breaking runs.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table if not exists setting (key text primary key, value jsonb not null);
    alter table run
      add column if not exists gauge jsonb,
      add column if not exists rule_of_thumb_wh_per_km double precision check (rule_of_thumb_wh_per_km > 0);
    update plan_slot set state = 'planned' where state = 'dropped';
    alter table plan_slot drop constraint if exists plan_slot_state_check;
    alter table plan_slot add constraint plan_slot_state_check check (state in ('planned','underway','ridden'));
    create table migration_checksum (
      name text primary key, sha256 text not null, recorded_at timestamptz not null default now()
    );
  `);
}
