import type { Knex } from 'knex';

export const name = '0015-elsewhere';

/** What other testers found of a trial's pairs: beside its own runs, never among them. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table elsewhere_study (
      id uuid primary key, trial_id uuid not null references trial on delete cascade, tester text not null check (tester <> ''),
      a_revision_id uuid not null references setup_revision, b_revision_id uuid not null references setup_revision,
      ratio double precision not null check (ratio > 0), lower double precision not null check (lower > 0),
      upper double precision not null, runs integer check (runs > 0), note text not null default '',
      at timestamptz not null default now(), check (lower < upper), check (ratio between lower and upper), check (a_revision_id <> b_revision_id)
    );
    create index elsewhere_study_trial on elsewhere_study (trial_id);
  `);
}
