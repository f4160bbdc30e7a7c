import { defaultDataFolder, installedPostgres, startPostgres } from './postgres.mjs';
import { resolve } from 'node:path';

/** Does something with the database of this installation, whether Ebrix runs or not; what was not running is stopped again. */
export async function withDatabase(work) {
  if (process.env.DATABASE_URL)
    return work({ url: process.env.DATABASE_URL, bin: process.env.EBRIX_PG_BIN || installedPostgres() });
  const database = await startPostgres(resolve(defaultDataFolder()));
  try {
    return await work(database);
  } finally {
    if (!database.wasRunning) database.stop();
  }
}
