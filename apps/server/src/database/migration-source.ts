import type { Knex } from 'knex';
import * as first from './migrations/0001-first.js';
import * as bench from './migrations/0002-bench.js';
import * as planAndRide from './migrations/0003-plan-and-ride.js';
import * as findings from './migrations/0004-findings.js';
import * as analysesAsked from './migrations/0005-analyses-asked.js';
import * as catchUp from './migrations/0006-catch-up.js';
import * as plainNames from './migrations/0007-plain-names.js';
import * as importLeases from './migrations/0008-import-leases.js';
import * as wayOfRiding from './migrations/0009-way-of-riding.js';
import * as beforeConversion from './migrations/0010-before-conversion.js';
import * as deletedRuns from './migrations/0011-deleted-runs.js';
import * as fittingRecord from './migrations/0012-fitting-record.js';
import * as decide from './migrations/0013-decide.js';
import * as report from './migrations/0014-report.js';
import * as elsewhere from './migrations/0015-elsewhere.js';
import * as forecast from './migrations/0016-forecast.js';
import * as logbook from './migrations/0017-logbook.js';
import * as accounts from './migrations/0018-accounts.js';
import * as trash from './migrations/0019-trash.js';
import * as learnedBike from './migrations/0020-learned-bike.js';
import * as signInTries from './migrations/0021-sign-in-tries.js';
import * as manyRuns from './migrations/0022-many-runs.js';

interface Migration {
  readonly name: string;
  readonly up: (knex: Knex) => Promise<void>;
}

/**
 * Forward only, statically imported: the build, the tests and a worker run the very same migrations. One that has landed is
 * never edited (`migrations/checksums.ts` is held against the files by a test): what it should have done comes in a new one.
 */
const MIGRATIONS: readonly Migration[] = [
  first,
  bench,
  planAndRide,
  findings,
  analysesAsked,
  catchUp,
  plainNames,
  importLeases,
  wayOfRiding,
  beforeConversion,
  deletedRuns,
  fittingRecord,
  decide,
  report,
  elsewhere,
  forecast,
  logbook,
  accounts,
  trash,
  learnedBike,
  signInTries,
  manyRuns,
];

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
