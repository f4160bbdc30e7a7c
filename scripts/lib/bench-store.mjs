import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync, statSync } from 'node:fs';
import pg from 'pg';
import { fillWithRuns, makeLongRideCsv } from './bench-data.mjs';
import { startThrowawayPostgres } from './postgres.mjs';
import { root } from './say.mjs';
import { startServer } from './server.mjs';

const FILL = `${root}/apps/server/src/testing/large-store.sql`;
const BACKUP = `${root}/.cache/bench-store.backup`;
const DUMP = `${root}/.cache/bench-store.dump`;

/**
 * Requests on 100 000 runs with 2 million figures, 5 000 trials and 20 000 rides, ms; how long its backup and its data package take, s,
 * how large they are and what the server takes of memory meanwhile, MB. Each request is the best of five: verdicts are remembered by then.
 */
export async function storeTimes(best) {
  const cluster = await startThrowawayPostgres();
  const databaseUrl = cluster.createDatabase('store');
  const server = await startServer(databaseUrl, { hasDemo: false });
  try {
    await fillWithRuns(server.url, databaseUrl, makeLongRideCsv(2000), 1);
    const { setup, trial } = await fillLarge(databaseUrl);
    const get = async (path) => {
      const response = await fetch(`${server.url}/api/${path}`);
      if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
      return response.json();
    };
    const timed = async (...paths) => {
      let slowest = 0;
      for (const path of paths) slowest = Math.max(slowest, await best(5, () => get(path)));
      return slowest;
    };
    const empty = await timed('health');
    // From the last day of a setup in the middle of all, and from the other end.
    const { next } = await get(`runs?setup=${setup}`);
    const { next: early } = await get('runs?order=up');
    const lists = await timed('runs', `runs?after=${next}`, `runs?before=${early}`, `runs?setup=${setup}`, 'rides');
    const sorted = await timed(
      'runs?sort=netConsumption&order=up',
      'runs?sort=setup&order=up',
      `runs?sort=netConsumption&order=up&setup=${setup}`,
      'runs?text=copy-999',
    );
    const figures = await timed(`setups/${setup}/figures`);
    const trials = await timed('trials?limit=50');
    const oneTrial = await timed(`trials/${trial}`, `trials/${trial}/runs`, `trials/${trial}/verdict`);
    const packed = await timedOnce(async () => sizeOf(await fetch(`${server.url}/api/package?channels=none`)));
    const packageMb = memoryOf(server.pid, 'VmHWM');
    const backup = await timedOnce(() => ownBackup(databaseUrl, cluster.bin));
    const dump = await timedOnce(() => plainDump(databaseUrl, cluster.bin));
    return { empty, lists, sorted, figures, trials, oneTrial, packed, backup, dump, packageMb };
  } finally {
    await server.stop();
    cluster.stop();
    for (const file of [BACKUP, DUMP]) rmSync(file, { force: true });
  }
}

async function fillLarge(databaseUrl) {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    await client.query(readFileSync(FILL, 'utf8'));
    await client.query('vacuum');
    const idOf = async (sql) => (await client.query(sql)).rows[0].id;
    return {
      setup: await idOf(`select id from setup where name = 'Fit 7'`),
      trial: await idOf('select id from trial limit 1'),
    };
  } finally {
    await client.end();
  }
}

async function timedOnce(work) {
  const began = performance.now();
  const bytes = await work();
  return { seconds: (performance.now() - began) / 1000, mb: bytes / 1e6 };
}

/** Taken as it comes: what the server sends is not to be held here. */
async function sizeOf(response) {
  if (!response.ok) throw new Error(await response.text());
  let bytes = 0;
  for await (const piece of response.body) bytes += piece.length;
  return bytes;
}

async function ownBackup(databaseUrl, bin) {
  const { writeBackup } = await import(`${root}/apps/server/dist/upkeep/backup-file.js`);
  await writeBackup({ databaseUrl, bin }, BACKUP, 'bench');
  return statSync(BACKUP).size;
}

/** The reference: PostgreSQL's own dump in its packed format. */
function plainDump(databaseUrl, bin) {
  const { status, stderr } = spawnSync(`${bin}/pg_dump`, ['-Fc', '-f', DUMP, databaseUrl], { encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
  return statSync(DUMP).size;
}

/** MB that a process holds (`VmRSS`) or ever held (`VmHWM`). */
function memoryOf(pid, what = 'VmRSS') {
  return Number(readFileSync(`/proc/${pid}/status`, 'utf8').match(new RegExp(`${what}:\\s+(\\d+)`))[1]) / 1024;
}
