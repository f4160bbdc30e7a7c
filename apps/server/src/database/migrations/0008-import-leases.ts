import type { Knex } from 'knex';

export const name = '0008-import-leases';

/** Who reads a file, and until when nobody else takes it; what is being done with it is one of a few words. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table import_file add column leased_by uuid, add column leased_until timestamptz;
    update import_file set status = 'queued', step = 'waiting' where status = 'working';
    update import_file set step = '' where status not in ('queued', 'working');
    update import_file set step = 'waiting' where step not in ('', 'waiting');
    alter table import_file add constraint import_file_step check (step in ('', 'waiting', 'reading', 'storing'));
  `);
}
