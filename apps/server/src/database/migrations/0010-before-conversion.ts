import type { Knex } from 'knex';

export const name = '0010-before-conversion';

/** A setup may be the bike before conversion: without kit and pack. And "Rain" is a reason to leave a run out. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table setup_revision alter column kit_id drop not null;
    alter table run_exclusion drop constraint run_exclusion_reason_check;
    alter table run_exclusion add constraint run_exclusion_reason_check check (length(reason) >= 2);
  `);
}
