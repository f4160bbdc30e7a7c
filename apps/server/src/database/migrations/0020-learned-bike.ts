import type { Knex } from 'knex';

export const name = '0020-learned-bike';

/** What rides taught of a setup, so that it is learned once and not again by each server and after each start. Made anew from the rest. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table learned_bike (
      setup_id uuid primary key, fingerprint text not null, learned jsonb not null, at timestamptz not null default now()
    );
  `);
}
