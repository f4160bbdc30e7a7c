import type { Knex } from 'knex';

export const name = '0013-decide';

/** What setups are weighed for, and what was bought for them. Criteria, bounds and lines are documents that are replaced whole and counted. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table intended_use (
      id uuid primary key, name text not null check (length(name) between 1 and 80), notes text not null default '',
      criteria jsonb not null, must_haves jsonb not null, version integer not null default 1,
      updated_at timestamptz not null default now(), archived_at timestamptz
    );
    create unique index intended_use_name on intended_use (lower(name)) where archived_at is null;
    create table purchase_list (
      setup_id uuid primary key references setup on delete cascade, version integer not null default 1,
      lines jsonb not null, updated_at timestamptz not null default now()
    );
    create table money_book (
      is_only boolean primary key default true check (is_only), version integer not null default 1,
      book jsonb not null, updated_at timestamptz not null default now()
    );
  `);
}
