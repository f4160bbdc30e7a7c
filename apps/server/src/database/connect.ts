import knex, { type Knex } from 'knex';
import pg from 'pg';
import { MigrationSource } from './migration-source.js';

// A day is a day: the driver would make it a midnight of this machine's time zone.
pg.types.setTypeParser(pg.types.builtins.DATE, (text) => text);

/** Of another database on the same server. */
export function urlOfDatabase(url: string, name: string): string {
  const address = new URL(url);
  address.pathname = `/${name}`;
  return address.href;
}

/** `source`: migrations of another version, in tests. */
export function connect(url: string, source: Knex.MigrationSource<never> = new MigrationSource() as never): Knex {
  return knex({
    client: 'pg',
    connection: { connectionString: url, application_name: 'ebrix' },
    pool: { min: 0, max: 12 },
    acquireConnectionTimeout: 10_000,
    migrations: { migrationSource: source },
  });
}
