import type { Knex } from 'knex';
import * as first from './migrations/0001-first.js';
import * as bench from './migrations/0002-bench.js';
import * as planAndRide from './migrations/0003-plan-and-ride.js';
import * as findings from './migrations/0004-findings.js';
import * as analysesAsked from './migrations/0005-analyses-asked.js';

interface Migration {
  readonly name: string;
  readonly up: (knex: Knex) => Promise<void>;
}

/** Forward only, statically imported: the build, the tests and a worker run the very same migrations. */
const MIGRATIONS: readonly Migration[] = [first, bench, planAndRide, findings, analysesAsked];

export class MigrationSource implements Knex.MigrationSource<Migration> {
  getMigrations(): Promise<Migration[]> {
    return Promise.resolve([...MIGRATIONS]);
  }
  getMigrationName(migration: Migration): string {
    return migration.name;
  }
  getMigration(migration: Migration): Promise<Knex.Migration> {
    return Promise.resolve({
      up: migration.up,
      down: () => Promise.reject(new Error('Migrations only go forward.')),
    });
  }
}
