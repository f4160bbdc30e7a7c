import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Config } from '../common/config.js';
import { writeBackup } from './backup-file.js';

/** A backup from before a migration, named by it. */
export async function dumpBefore(
  { EBRIX_BACKUPS: folder, EBRIX_PG_BIN: bin, DATABASE_URL: databaseUrl }: Config,
  migration: string,
): Promise<string | undefined> {
  if (folder === undefined || bin === undefined) return undefined;
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const at = new Date().toISOString().slice(0, 19).replaceAll(':', '').replace('T', '-');
  const file = join(folder, `ebrix-${at}.backup`);
  await writeBackup({ databaseUrl, bin }, file, `before ${migration}`);
  return file;
}
