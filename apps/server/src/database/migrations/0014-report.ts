import type { Knex } from 'knex';

export const name = '0014-report';

/** Reports as they were issued: what they said and how they looked. None is ever changed; a later state is a new version. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table report (
      id uuid primary key, number integer not null check (number > 0), edition integer not null check (edition > 0),
      title text not null check (title <> ''), form text not null check (form in ('short','full','public')),
      by text not null check (length(by) >= 2), at timestamptz not null default now(), fingerprint text not null,
      trial_id uuid references trial on delete set null, follows uuid references report on delete set null,
      spec jsonb not null, sections jsonb not null, changes jsonb not null, html text not null
    );
    -- Numbers are given out one by one here; reports of another installation, taken in with its package, bring their own.
    create index report_number on report (number);
  `);
}
