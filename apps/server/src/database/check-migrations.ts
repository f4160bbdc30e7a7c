import type { Knex } from 'knex';
import { MIGRATION_CHECKSUMS } from './migrations/checksums.js';

/**
 * Compares the migrations that made this database with those of this version, and records those not recorded yet. Throws
 * where one differs or is unknown: serving pages from tables of another form would break runs without a word.
 */
export async function checkMigrations(database: Knex): Promise<void> {
  await database.transaction(async (transaction) => {
    // Two processes may start at the same moment.
    await transaction.raw('lock table migration_checksum in exclusive mode');
    const applied = (await transaction('knex_migrations').pluck('name')) as string[];
    const rows = await transaction<{ name: string; sha256: string }>('migration_checksum').select('name', 'sha256');
    const recorded = new Map(rows.map(({ name, sha256 }) => [name, sha256]));
    for (const name of applied) {
      const expected = MIGRATION_CHECKSUMS[name];
      const known = recorded.get(name);
      if (expected === undefined || (known !== undefined && known !== expected)) throw new Error(refusal(name));
      if (known === undefined) await transaction('migration_checksum').insert({ name, sha256: expected });
    }
  });
}

function refusal(name: string): string {
  return (
    `This database was made by a version of Ebrix whose migration "${name}" differs from this version's. Nothing was ` +
    'changed. Start the version that made it, or use another data folder (EBRIX_DATA).'
  );
}
