import { existsSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { buildChanged } from './lib/build.mjs';
import { installPackages } from './lib/install.mjs';
import { defaultDataFolder } from './lib/postgres.mjs';
import { PlainProblem, refuse, root, runScript, say } from './lib/say.mjs';
import { withDatabase } from './lib/with-database.mjs';

const USAGE = `Usage: npm run restore FILE             takes the place of what is there; that is kept beside it
       npm run restore FILE -- --as NAME  beside it, under a name: EBRIX_DATABASE=NAME npm start`;

/** Brings a backup back. What was there before is never dropped, only put aside. */
await runScript(async () => {
  const { values, positionals } = parseArgs({ options: { as: { type: 'string' } }, allowPositionals: true });
  const [given] = positionals;
  if (!given) refuse(USAGE);
  const { as: beside } = values;
  if (beside !== undefined && !/^[a-z][a-z0-9_]{0,50}$/.test(beside))
    refuse('The name begins with a letter and has small letters, digits and underscores: --as last_summer');
  const file = resolve(given);
  if (!existsSync(file)) refuse(`There is no file ${file}.`);
  const dataFolder = resolve(defaultDataFolder());
  if (beside === undefined) requireStopped(dataFolder);
  installPackages();
  buildChanged(['core', 'contract', 'server']);
  const { BackupProblem, restoreBackup } = await import(`${root}/apps/server/dist/upkeep/backup-file.js`);
  const { switchDatabases } = await import(`${root}/apps/server/dist/upkeep/switch-databases.js`);
  const stamp = new Date().toISOString().slice(0, 19).replace(/[-:T]/g, '');
  await withDatabase(async ({ url, bin, name = new URL(url).pathname.slice(1) }) => {
    if (!bin)
      refuse(
        'PostgreSQL’s programs are not installed here. Install postgresql-client, or say where they are: EBRIX_PG_BIN.',
      );
    const into = beside ?? `restored_${stamp}`;
    const { madeAt, rows } = await restoreBackup({ databaseUrl: url, bin }, file, into, tmpdir()).catch((error) => {
      throw error instanceof BackupProblem ? new PlainProblem(error.message) : error;
    });
    const total = Object.values(rows).reduce((sum, count) => sum + count, 0);
    say(`Restored ${total} rows as they were on ${madeAt.slice(0, 16).replace('T', ' ')} UTC, counted table by table.`);
    if (beside !== undefined) return say(`It stands beside the other: EBRIX_DATABASE=${beside} npm start`);
    const aside = await switchDatabases(url, name, into, `before_${stamp}`).catch((error) => {
      if (error.code !== '55006') throw error;
      refuse(
        `Something still uses the database ${name}: end it (a server, a worker), then restore again. What was restored stands as ${into} meanwhile.`,
      );
    });
    say(
      aside
        ? `What was there before is kept: EBRIX_DATABASE=before_${stamp} npm start`
        : 'There was nothing there before.',
    );
  });
});

function requireStopped(dataFolder) {
  const lock = join(dataFolder, 'running.json');
  if (!existsSync(lock)) return;
  const { pid, url } = JSON.parse(readFileSync(lock, 'utf8'));
  try {
    process.kill(pid, 0);
  } catch {
    return;
  }
  refuse(`Ebrix runs on this data (${url}). Stop it first, or restore beside it: npm run restore FILE -- --as NAME`);
}
