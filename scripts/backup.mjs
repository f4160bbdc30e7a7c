import { mkdirSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { buildChanged } from './lib/build.mjs';
import { installPackages } from './lib/install.mjs';
import { defaultDataFolder } from './lib/postgres.mjs';
import { PlainProblem, refuse, root, runScript, say } from './lib/say.mjs';
import { withDatabase } from './lib/with-database.mjs';

/** Everything in one file, whether Ebrix runs or not: npm run backup [file] */
await runScript(async () => {
  installPackages();
  buildChanged(['core', 'contract', 'server']);
  const { BackupProblem, writeBackup } = await import(`${root}/apps/server/dist/upkeep/backup-file.js`);
  const at = new Date().toISOString().slice(0, 19).replaceAll(':', '').replace('T', '-');
  const file = resolve(process.argv[2] ?? join(defaultDataFolder(), 'backups', `ebrix-${at}.backup`));
  mkdirSync(dirname(file), { recursive: true });
  await withDatabase(async ({ url, bin }) => {
    if (!bin)
      refuse(
        'PostgreSQL’s programs are not installed here. Install postgresql-client, or say where they are: EBRIX_PG_BIN.',
      );
    const { rows, dump } = await writeBackup({ databaseUrl: url, bin }, file, 'by hand').catch((error) => {
      throw error instanceof BackupProblem ? new PlainProblem(error.message) : error;
    });
    const total = Object.values(rows).reduce((sum, count) => sum + count, 0);
    say(`${file}\n${total} rows of ${Object.keys(rows).length} tables, ${(dump.bytes / 1e6).toFixed(1)} MB.`);
  });
});
