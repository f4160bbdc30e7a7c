import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { buildChanged } from './lib/build.mjs';
import { fillDisk, mountSmallDisk, unmountDisk } from './lib/faults/disk.mjs';
import { Installation, until, wait } from './lib/faults/installation.mjs';
import { PlainBox } from './lib/faults/plain-box.mjs';
import { tryFiles } from './lib/faults/try-files.mjs';
import { installPackages } from './lib/install.mjs';
import { chooseFolder, freePort, startThrowawayPostgres } from './lib/postgres.mjs';
import { refuse, root, runScript, say } from './lib/say.mjs';

/**
 * Bad luck, many times over: npm run faults -- --times 200 --seed 1 --minutes 10
 * Ebrix is started as a person does, on a folder of its own, with three loggers running and files and backups coming in; it is killed in every
 * way there is and must come back by itself. Counted: acknowledged lines that are lost or doubled, files half taken in, backups half made,
 * starts that needed a hand; then hostile files of every kind that is read: answers later than 15 s, answers that are faults, pages that hang.
 * Anything but nought fails.
 */
const argument = (name, otherwise) => {
  const at = process.argv.indexOf(`--${name}`);
  return at < 0 ? otherwise : Number(process.argv[at + 1]);
};
const times = argument('times', 40);
/** Hostile files go on for so long, and never fewer than these. */
const minutes = argument('minutes', 0);
const HOSTILE_AT_LEAST = 90;
const random = seeded(argument('seed', 1));
const counts = { faults: {}, lost: 0, doubled: 0, lines: 0, halfImports: 0, halfBackups: 0, needAHand: 0 };
const require = createRequire(`${root}/apps/server/`);

/** One installation that lives through all of them. */
async function faultsOfOne(number) {
  const folder = mkdtempSync(join(tmpdir(), 'ebrix-faults-'));
  const hasDisk = mountSmallDisk(folder);
  if (!hasDisk) say('No small disk can be mounted here: that one is not tried.');
  mkdirSync(folder, { recursive: true, mode: 0o755 });
  const installation = new Installation(folder);
  const kinds = { ...FAULTS };
  // The cluster may lie elsewhere, where its user can write.
  if (!hasDisk || !chooseFolder(folder).startsWith(folder)) delete kinds['full disk'];
  try {
    await installation.start();
    if (!(await installation.untilWell())) refuse(`The first start did not come up.\n${installation.output}`);
    const boxes = [];
    for (let k = 0; k < 3; k++) {
      const { id } = await post(installation, 'bench/loggers', { name: `Box ${k}` });
      boxes.push(new PlainBox(() => installation.url, id, `faults-${k}`));
    }
    const files = { sent: 0 };
    const names = Object.keys(kinds);
    for (let k = 0; k < number; k++) {
      const name = names[k % names.length];
      const goal = boxes.map(({ acknowledged }) => acknowledged + 5);
      await until(() => boxes.every(({ acknowledged }, b) => acknowledged >= goal[b]), 60_000);
      await wait(random() * 400);
      await kinds[name]({ installation, boxes, files, folder });
      counts.faults[name] = (counts.faults[name] ?? 0) + 1;
      if (!(await installation.untilWell())) {
        counts.needAHand++;
        say(`${name}: it did not come back.\n${installation.output}`);
        installation.killAll();
        await wait(1000);
        await installation.start();
        await installation.untilWell();
      }
      process.stdout.write('.');
    }
    const goal = boxes.map(({ made }) => made);
    const isAllIn = await until(() => boxes.every(({ acknowledged }, b) => acknowledged >= goal[b] - 1), 120_000);
    if (!isAllIn) say('Not every line was acknowledged in the end.');
    boxes.forEach((box) => box.stop());
    await count(installation, boxes, files);
    const end = Date.now() + minutes * 60_000;
    counts.hostile = await tryFiles(installation.url, random, (sent) => sent >= HOSTILE_AT_LEAST && Date.now() > end);
    await installation.stop();
  } finally {
    installation.killAll();
    const cluster = chooseFolder(folder);
    if (hasDisk) unmountDisk(folder);
    await wait(500);
    rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
    if (!cluster.startsWith(folder)) rmSync(join(cluster, '..'), { recursive: true, force: true, maxRetries: 5 });
  }
}

const FAULTS = {
  'server killed': async ({ installation }) => {
    const { server } = installation;
    installation.kill(server);
    await until(() => installation.server !== server, 10_000);
  },
  'database killed': async ({ installation }) => {
    installation.kill(installation.database);
    await wait(200);
  },
  'all killed': async ({ installation }) => {
    installation.killAll();
    await wait(100 + random() * 500);
    await installation.start();
  },
  'line cut': async ({ boxes }) => {
    boxes.forEach((box) => box.cut());
    await wait(100);
  },
  'server frozen': async ({ installation }) => {
    const { server } = installation;
    installation.kill(server, 'SIGSTOP');
    await wait(500 + random() * 1500);
    installation.kill(server, 'SIGCONT');
  },
  'killed while a file comes in': async ({ installation, files }) => {
    const form = new FormData();
    form.append('files', new Blob([rideCsv(++files.sent)]), `ride-${files.sent}.csv`);
    void fetch(`${installation.url}/api/imports`, { method: 'POST', body: form }).catch(() => undefined);
    await wait(random() * 3000);
    await FAULTS['server killed']({ installation });
  },
  'killed while a backup is made': async ({ installation }) => {
    void fetch(`${installation.url}/api/upkeep/backups`, { method: 'POST' }).catch(() => undefined);
    await wait(random() * 900);
    await FAULTS['server killed']({ installation });
  },
  'full disk': async ({ installation, folder }) => {
    const free = fillDisk(folder);
    try {
      await wait(2500);
      // It may not write; it must not be gone.
      if (!(await until(() => fetch(`${installation.url}/`).then(() => true), 20_000))) {
        counts.needAHand++;
        say('full disk: the server was gone.');
      }
    } finally {
      free();
    }
  },
};

/** What is stored against what was promised. */
async function count(installation, boxes, files) {
  const pg = require('pg');
  const cluster = chooseFolder(installation.folder);
  const [, , , port] = readFileSync(join(cluster, 'data', 'postmaster.pid'), 'utf8').split('\n');
  const password = readFileSync(join(cluster, 'password'), 'utf8').trim();
  const client = new pg.Client({ host: '127.0.0.1', port: Number(port), user: 'ebrix', database: 'ebrix', password });
  client.on('error', (error) => say(error.message));
  await client.connect();
  for (const { session, acknowledged } of boxes) {
    const { rows } = await client.query(
      'select c.lines from sample_chunk c join logger_session s on s.id = c.session_id where s.name = $1',
      [session],
    );
    const stored = rows.flatMap(({ lines }) => lines.split('\n').map((line) => JSON.parse(line)[0]));
    const known = new Set(stored);
    counts.doubled += stored.length - known.size;
    counts.lines += acknowledged + 1;
    for (let n = 0; n <= acknowledged; n++) if (!known.has(n)) counts.lost++;
  }
  // A file is here once and whole, or not at all.
  const imports = await client.query('select file_name from import_file');
  const names = imports.rows.map(({ file_name: name }) => name);
  counts.halfImports = names.length - new Set(names).size;
  counts.filesSent = files.sent;
  counts.filesHere = names.length;
  await client.end();
  const list = await (await fetch(`${installation.url}/api/upkeep/backups`)).json();
  counts.backups = list.backups.length;
  const leavings = readdirSync(list.folder).filter((name) => !/\.backup$|^verified\.json$/.test(name));
  counts.halfBackups = list.backups.filter(({ madeAt }) => madeAt === null).length + leavings.length;
  if (leavings.length > 0) say(`Left of backups: ${leavings.join(', ')}`);
}

async function killedFirstStarts(number) {
  for (let k = 0; k < number; k++) {
    const folder = mkdtempSync(join(tmpdir(), 'ebrix-first-'));
    const installation = new Installation(folder);
    try {
      await installation.start();
      await wait(100 + random() * 3500);
      installation.killAll();
      await wait(300);
      await installation.start();
      if (!(await installation.untilWell())) {
        counts.needAHand++;
        say(`killed first start: the next one did not come up.\n${installation.output}`);
      }
      counts.faults['first start killed'] = (counts.faults['first start killed'] ?? 0) + 1;
      await installation.stop();
    } finally {
      installation.killAll();
      await wait(300);
      rmSync(join(chooseFolder(folder), '..'), { recursive: true, force: true, maxRetries: 5 });
      rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
    }
    process.stdout.write('.');
  }
}

/** An installation of an earlier version is killed while its tables are brought up to date. */
async function killedMigrations(number) {
  const pg = require('pg');
  const cluster = await startThrowawayPostgres();
  const states = `${root}/apps/server/src/database/earlier-states`;
  const dumps = readdirSync(states).filter((name) => name.endsWith('.sql.gz'));
  try {
    for (let k = 0; k < number; k++) {
      const url = cluster.createDatabase(`killed_${k}`);
      const client = new pg.Client({ connectionString: url });
      await client.connect();
      await client.query(gunzipSync(readFileSync(join(states, dumps[k % dumps.length]))).toString());
      await client.end();
      const port = await freePort();
      const start = () =>
        spawn(process.execPath, [`${root}/apps/server/dist/bundle/main.js`], {
          env: { PATH: process.env.PATH, DATABASE_URL: url, PORT: String(port), LOG_LEVEL: 'fatal' },
          stdio: 'ignore',
        });
      const first = start();
      await wait(600 + random() * 1500);
      first.kill('SIGKILL');
      const second = start();
      const isWell = await until(() => fetch(`http://127.0.0.1:${port}/api/health`).then(({ ok }) => ok), 60_000);
      if (isWell !== true) {
        counts.needAHand++;
        say(`killed migration of ${dumps[k % dumps.length]}: the next start did not come up.`);
      }
      second.kill('SIGKILL');
      counts.faults['migration killed'] = (counts.faults['migration killed'] ?? 0) + 1;
      process.stdout.write('.');
    }
  } finally {
    cluster.stop();
  }
}

async function post(installation, path, body) {
  const response = await fetch(`${installation.url}/api/${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw new Error(`${path}: ${response.status} ${await response.text()}`);
  return response.json();
}

/** A short ride; the number makes its bytes differ from any other's. */
function rideCsv(number) {
  const lines = ['time (s),speed (km/h),distance (m),voltage (V),current (A)'];
  for (let t = 0; t <= 300; t++)
    lines.push(
      `${t},${20 + (number % 7) / 10},${(t * 5.6).toFixed(1)},${(50 - t / 500).toFixed(2)},${5 + number / 1000}`,
    );
  return lines.join('\n');
}

/** Numbers that look random and are the same for the same seed. */
function seeded(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

await runScript(async () => {
  if (!Number.isInteger(times) || times < 10 || times > 1000) refuse('--times: a number from 10 to 1000.');
  installPackages();
  buildChanged();
  const few = Math.max(2, Math.round(times / 20));
  await faultsOfOne(times - 2 * few);
  await killedFirstStarts(few);
  await killedMigrations(few);
  say(`\n${JSON.stringify(counts, null, 2)}`);
  const { lost, doubled, halfImports, halfBackups, needAHand } = counts;
  const { slow, faults, slowPages } = counts.hostile;
  const bad = lost + doubled + halfImports + halfBackups + needAHand + slow + faults + slowPages;
  if (bad > 0) refuse('Not all of it is nought.');
  if (counts.lines === 0) refuse('No line was acknowledged: nothing was tried.');
});
