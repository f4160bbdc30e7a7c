import type { Knex } from 'knex';

export const name = '0021-sign-in-tries';

/** Wrong passwords of the last quarter of an hour, counted for all servers together. Columns as the limiter wants them; keys are hashes. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table sign_in_try (key varchar(255) primary key, points integer not null default 0, expire bigint);
  `);
}
