import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { buildChanged } from './lib/build.mjs';
import { installPackages } from './lib/install.mjs';
import { defaultDataFolder, installedPostgres, requireFreePort, startPostgres } from './lib/postgres.mjs';
import { forkServer } from './lib/server.mjs';
import { prepareSharing } from './lib/share.mjs';
import { PlainProblem, refuse, runScript, say } from './lib/say.mjs';

const HOST = '127.0.0.1';
const port = Number(process.env.PORT || 4180);
/** A server that ends again and again is started ever later. */
const LONGEST_DELAY_S = 60;
const ENDINGS_WITHIN_MS = 600_000;
const isEmpty = process.argv.includes('--empty');
const isShared = process.argv.includes('--share');
const sharePort = Number(process.env.EBRIX_SHARE_PORT || port + 1);

await runScript(async () => {
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    refuse(`PORT is "${process.env.PORT}"; give a number from 1 to 65535.`);
  const dataFolder = resolve(defaultDataFolder());
  makeFolder(dataFolder);
  const lock = join(dataFolder, 'running.json');
  takeLock(lock, dataFolder);
  await requireFreePort(port, HOST).catch((error) =>
    refuse(
      error.code === 'EADDRINUSE'
        ? `Port ${port} is in use by another program. Stop that one, or start Ebrix on another port: PORT=4181 npm start`
        : `Port ${port} cannot be opened (${error.code}). Try another: PORT=4181 npm start`,
    ),
  );
  installPackages();
  buildChanged();

  const sharing = isShared ? await prepareSharing(dataFolder, sharePort) : undefined;

  const database = process.env.DATABASE_URL ? undefined : await startPostgres(dataFolder);
  const databaseUrl = process.env.DATABASE_URL || database.urlOf(process.env.EBRIX_DATABASE || database.name);
  if (process.env.DATABASE_URL) await requireDatabase(databaseUrl);

  let server;
  let isStopping = false;
  let isRestarting = false;
  const watch =
    database &&
    setInterval(() => {
      if (isStopping || isRestarting || database.isAlive()) return;
      say('The database stopped; starting it again.');
      isRestarting = true;
      void database.restart().then((isBack) => {
        isRestarting = false;
        if (!isBack) say('The database does not come back; trying again.');
      });
    }, 5000);
  const stop = (code) => {
    if (isStopping) return;
    isStopping = true;
    clearInterval(watch);
    const finish = () => {
      database?.stop();
      rmSync(lock, { force: true });
      process.exit(code);
    };
    if (server.exitCode !== null || server.signalCode !== null) return finish();
    server.once('exit', finish);
    server.kill('SIGTERM');
    setTimeout(() => server.kill('SIGKILL'), 10_000).unref();
  };
  process.on('SIGINT', () => stop(0));
  process.on('SIGTERM', () => stop(0));
  process.on('SIGHUP', () => stop(0));
  const endings = [];
  const launch = () => {
    server = forkServer({
      HOST,
      PORT: String(port),
      DATABASE_URL: databaseUrl,
      EBRIX_DEMO: isEmpty ? 'no' : 'yes',
      EBRIX_BACKUPS: process.env.EBRIX_BACKUPS || join(dataFolder, 'backups'),
      EBRIX_PACKAGES: process.env.EBRIX_PACKAGES || join(dataFolder, 'packages'),
      EBRIX_PG_BIN: process.env.EBRIX_PG_BIN || (database?.bin ?? installedPostgres() ?? ''),
      ...(sharing && {
        EBRIX_SHARE_PORT: String(sharePort),
        EBRIX_HOSTS: sharing.hosts.join(','),
        EBRIX_SHARED: sharing.addresses.join(','),
        EBRIX_TLS_CERT: sharing.certificate,
        EBRIX_TLS_KEY: sharing.key,
        ...(sharing.authority && { EBRIX_AUTHORITY: sharing.authority }),
      }),
    });
    let wasReady = false;
    server.on('message', (message) => {
      if (message.ready) {
        wasReady = true;
        say(`\nEbrix is ready: http://${HOST}:${port}\nCtrl-C stops it and its database.`);
      }
      if (message.note) say(message.note);
    });
    server.on('exit', (code, signal) => {
      if (isStopping) return;
      process.stderr.write(`\nThe server ended by itself (${signal ?? `exit ${code}`}). The lines above say why.\n`);
      endings.push(Date.now());
      // What never came up will not come up the next time either.
      if (!wasReady) return stop(code || 1);
      const lately = endings.filter((at) => Date.now() - at < ENDINGS_WITHIN_MS).length;
      const delayS = lately === 1 ? 0 : Math.min(LONGEST_DELAY_S, 2 ** (lately - 2));
      say(
        `Starting it again${delayS === 0 ? '' : ` in ${delayS} s`}; rides and jobs that were under way go on.` +
          (lately > 3 ? ` It ended ${lately} times within ten minutes: look into why.` : ''),
      );
      setTimeout(() => isStopping || launch(), delayS * 1000);
    });
  };
  launch();
});

function makeFolder(folder) {
  try {
    mkdirSync(folder, { recursive: true });
  } catch (error) {
    refuse(`The data folder ${folder} cannot be made (${error.code}). Set EBRIX_DATA to a folder that can be written.`);
  }
}

/** Taken before anything else, and by one start only: two at the same moment would make two databases of one folder. */
function takeLock(lock, dataFolder) {
  const own = JSON.stringify({ pid: process.pid, url: `http://${HOST}:${port}` });
  for (let tries = 0; tries < 3; tries++) {
    try {
      writeFileSync(lock, own, { flag: 'wx' });
      process.on('exit', () => {
        if (readOther(lock)?.pid === process.pid) rmSync(lock, { force: true });
      });
      return;
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
    }
    const other = readOther(lock);
    if (other && isOurs(other.pid))
      throw new PlainProblem(
        `Ebrix already runs on ${dataFolder}: ${other.url} (process ${other.pid}). Nothing was started.`,
      );
    // Of a start that was killed.
    rmSync(lock, { force: true });
  }
  refuse(`The lock ${lock} cannot be taken: another start takes it at the same moment. Try again.`);
}

function readOther(lock) {
  try {
    return JSON.parse(readFileSync(lock, 'utf8'));
  } catch {
    return undefined;
  }
}

/** The process lives and is a start of Ebrix: after a crash the number may belong to something else. */
function isOurs(pid) {
  try {
    process.kill(pid, 0);
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs');
  } catch (error) {
    return error.code === 'EPERM';
  }
}

async function requireDatabase(url) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: 5000 });
  try {
    await client.connect();
    await client.query('select 1');
  } catch (error) {
    refuse(
      `The database at DATABASE_URL does not answer (${error.message || error.code}). Check the address, or unset DATABASE_URL to use Ebrix's own.`,
    );
  } finally {
    await client.end().catch(() => undefined);
  }
}
