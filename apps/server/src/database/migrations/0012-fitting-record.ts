import type { Knex } from 'knex';

export const name = '0012-fitting-record';

/** What is noted around a fitting: the box, the wires, the tools. One document a setup, replaced whole and counted. And what the brake levers
 * of a bike pull; how late a logger shows the pedals. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table fitting_record (
      setup_id uuid primary key references setup on delete cascade, version integer not null default 1,
      record jsonb not null, updated_at timestamptz not null default now()
    );
    alter table logger add column cadence_delay_s double precision check (cadence_delay_s >= 0);
    alter table bike add column brake_lever text check (brake_lever in ('cable','hydraulic','combined'));
  `);
}
