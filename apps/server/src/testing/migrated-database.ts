import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { connect, urlOfDatabase } from '../database/connect.js';

const MIGRATIONS = join(__dirname, '../database/migrations');

/**
 * The name of a database with the tables of this version and nothing in them, made by the first test that asks: copying it takes a tenth of the
 * time that making the tables takes. `admin` keeps to one connection, which holds the lock.
 */
export async function migratedDatabase(admin: Knex, cluster: string): Promise<string> {
  const name = `tables_${hashOfMigrations()}`;
  await admin.raw('select pg_advisory_lock(hashtext(?))', [name]);
  try {
    if (await admin('pg_database').where({ datname: name }).first()) return name;
    const making = `${name}_making`;
    // One that was killed half-way may have left its own.
    await admin.raw(`drop database if exists ${making} with (force)`);
    await admin.raw(`create database ${making}`);
    const database = connect(urlOfDatabase(cluster, making));
    await database.migrate.latest();
    await database.destroy();
    await admin.raw(`alter database ${making} rename to ${name}`);
    return name;
  } finally {
    await admin.raw('select pg_advisory_unlock(hashtext(?))', [name]);
  }
}

function hashOfMigrations(): string {
  const hash = createHash('sha256');
  for (const file of readdirSync(MIGRATIONS).sort()) hash.update(readFileSync(join(MIGRATIONS, file)));
  return hash.digest('hex').slice(0, 16);
}
