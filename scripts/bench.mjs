import { spawnSync } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { buildChanged } from './lib/build.mjs';
import { ensureChromium } from './lib/debian.mjs';
import { installPackages } from './lib/install.mjs';
import { startThrowawayPostgres } from './lib/postgres.mjs';
import { refuse, root, runScript, say } from './lib/say.mjs';
import { startServer } from './lib/server.mjs';
import { analyserGrowth, analyserTimes } from './lib/bench-analysers.mjs';
import { designCoverage, designPower, lookAlarms } from './lib/bench-designs.mjs';
import { forecastTimes } from './lib/bench-forecast.mjs';
import { runLoggers } from './lib/bench-loggers.mjs';
import { timesBesideR } from './lib/bench-r.mjs';
import { crowd, importsPerMinute } from './lib/bench-many.mjs';
import { pageTimes } from './lib/bench-pages.mjs';
import { storeTimes } from './lib/bench-store.mjs';
import { comparer } from './lib/compare-runs.mjs';
import { longLogs } from './lib/bench-long-logs.mjs';
import { startTimes } from './lib/bench-start.mjs';
import { coverageTables, LOGGERS } from './lib/coverage.mjs';
import { fillWithParts, fillWithRuns, makeLongRideCsv, makeWideCsv } from './lib/bench-data.mjs';

const rows = [];
/** One line of the table; `limit` is a maximum unless `isFloor`. */
function row(what, value, unit, reference, referenceValue, limit, isFloor = false) {
  const ratio = value / referenceValue;
  rows.push({
    what,
    value: `${format(value)} ${unit}`,
    reference,
    ratio: format(ratio),
    limit: limit === undefined ? '' : `${isFloor ? '≥' : '≤'} ${limit} ${unit}`,
    ok: limit === undefined ? '' : (isFloor ? value >= limit : value <= limit) ? 'yes' : 'NO',
  });
}
const format = (value) => (value >= 100 ? value.toFixed(0) : value >= 10 ? value.toFixed(1) : value.toFixed(2));

const COVERAGE_RIDES = 400;
const ROBUSTNESS_RIDES = 40;
const DESIGN_TRIALS = 1000;

async function best(times, work) {
  let least = Infinity;
  for (let k = 0; k < times; k++) {
    const start = performance.now();
    await work();
    least = Math.min(least, performance.now() - start);
  }
  return least;
}

/** What can be measured alone, by name; without a name all of it is. */
const PARTS = {
  core: benchCore,
  forecast: benchForecast,
  'long-logs': benchLongLogs,
  start: benchStart,
  server: benchServer,
  store: benchStore,
  loggers: benchLoggers,
  many: benchMany,
  coverage: benchCoverage,
  simulations: benchSimulations,
  designs: benchDesigns,
};
const wanted = process.argv.slice(2).filter((name) => !name.startsWith('-'));
const unknown = wanted.find((name) => !(name in PARTS));

await runScript(async () => {
  if (unknown) refuse(`There is no part "${unknown}" of the bench; there are: ${Object.keys(PARTS).join(', ')}.`);
  installPackages();
  ensureChromium();
  buildChanged();
  mkdirSync(`${root}/.cache`, { recursive: true });
  for (const [name, measure] of Object.entries(PARTS))
    if (wanted.length === 0 || wanted.includes(name)) await measure();
  if (process.argv.includes('--with-r')) await benchBesideR();
  say('');
  // By number: some rows below different ones are called the same.
  console.table(rows);
});

async function benchBesideR() {
  const { model, two } = await timesBesideR(best);
  row(
    '3 setups × 40 runs, all methods, faster than',
    model.byR / model.own,
    '×',
    'lme4 and emmeans (R), ms',
    model.byR,
    10,
    true,
  );
  row(
    '2 × 40 runs and resamples, faster than',
    two.byR / two.own,
    '×',
    'tests and resamples (R), ms',
    two.byR,
    10,
    true,
  );
}

async function benchForecast() {
  const { learned, checked, all, first, realTime } = await forecastTimes(best);
  const yardstick = await best(5, multiplyTenMillion);
  const reference = '10 million multiplications';
  row('learn a bike from 20 rides × 36 000', learned, 'ms', reference, yardstick, 10_000);
  row('… and foretell each from the others', checked, 'ms', reference, yardstick);
  row('forecast, 400 paths of 25 km', all, 'ms', reference, yardstick, 1500);
  row('forecast, first answer', first, 'ms', reference, yardstick, 100);
  row('forecast, one path', realTime, '× real time', reference, yardstick, 2000, true);
}

async function benchCore() {
  const { TASKS } = await import(`${root}/apps/server/dist/compute/tasks.js`);
  const { readLog } = await import(`${root}/packages/core/dist/logs/index.js`);
  const { simulateRide } = await import(`${root}/packages/core/dist/ride-model/index.js`);
  const { seededRandom, standardNormal } = await import(`${root}/packages/core/dist/numeric/index.js`);
  const { inferSchema, initParser } = await import('udsv');

  const bytes = new TextEncoder().encode(makeWideCsv(36_000));
  const plain = () => {
    const text = new TextDecoder().decode(bytes);
    return initParser(inferSchema(text)).stringArrs(text);
  };
  const runs = [{ testKind: 'range', context: {} }];
  // In turns, so that a slow moment of the machine meets all; often, since a server has read many files before.
  let [parse, read, whole] = [Infinity, Infinity, Infinity];
  for (let k = 0; k < 30; k++) {
    parse = Math.min(parse, await best(1, plain));
    read = Math.min(read, await best(1, () => readLog(bytes)));
    whole = Math.min(whole, await best(1, () => TASKS.readRide({ bytes, mapping: null, runs })));
  }
  row('read CSV 36 000 × 12 into channels', read, 'ms', 'plain parse (udsv)', parse, Number((1.2 * parse).toFixed(1)));
  row(
    'CSV 36 000 × 12 to channels and figures',
    whole,
    'ms',
    'plain parse (udsv)',
    parse,
    Number((2.2 * parse).toFixed(1)),
  );

  const random = seededRandom(1);
  const setups = Array.from({ length: 5 }, (_, k) => ({
    name: `S${k}`,
    runs: Array.from({ length: 40 }, (_, r) => ({
      value: 9 + 0.2 * k + 0.3 * standardNormal(random),
      block: `outing ${r >> 2}`,
    })),
  }));
  const compare = await comparer();
  const yardstick = await best(5, multiplyTenMillion);
  row(
    'compare 5 setups × 40 runs, all methods',
    await best(3, () => compare(setups, 0)),
    'ms',
    '10 million multiplications',
    yardstick,
    150,
  );
  row(
    'compare 2 × 40 with 10 000 BCa resamples',
    await best(3, () => compare(setups.slice(0, 2), 10_000)),
    'ms',
    '10 million multiplications',
    yardstick,
    1500,
  );

  for (const { kind, samples, ms } of await analyserTimes(best))
    row(`${kind}: figures of ${samples} samples`, ms, 'ms', '10 million multiplications', yardstick, 300);
  for (const { kind, power } of await analyserGrowth(best))
    row(`   growth from 10⁴ to 10⁶ samples, ${kind}`, power, '', 'in proportion', 1, 1.1);

  const setupFacts = await demoSetupFacts();
  const { checkSetup, rollUp } = await import(`${root}/packages/core/dist/bench/index.js`);
  row(
    'checks and sums of a setup',
    await best(20, () => [checkSetup(setupFacts), rollUp(setupFacts)]),
    'ms',
    '10 million multiplications',
    yardstick,
    5,
  );

  const { COURSES } = await import(`${root}/apps/server/dist/demo/scenario.js`);
  const { rideModelOf } = await import(`${root}/apps/server/dist/demo/demo-ride.js`);
  const model = rideModelOf({ setup: 'corvane', course: 'level', outing: 'o1' }, (mean) => mean);
  const conditions = { airDensity: 1.2, airTemperatureC: 15, windMps: 2, startStateOfCharge: 1, startMotorC: 15 };
  let rideS = 0;
  const ride = await best(
    3,
    () => (rideS = simulateRide(model, COURSES.level.ride, conditions, { stepS: 0.01 }).trace.timeS.at(-1)),
  );
  row('ride model at 100 Hz, times real time', rideS / (ride / 1000), '×', 'real time', 1, 2000, true);
}

/** How often the stated intervals hold the truth; the table of the last whole run is kept in docs/methods.md. */
async function benchCoverage() {
  const kinds = (await import(`${root}/packages/core/dist/analysis/index.js`)).TEST_KIND_NAMES;
  const ordinary = Object.keys(LOGGERS)[0];
  const worse = Object.keys(LOGGERS).slice(1);
  const tables = await coverageTables([
    ...kinds.map((kind) => ({ kind, rides: COVERAGE_RIDES, loggerName: ordinary })),
    ...kinds.flatMap((kind) => worse.map((loggerName) => ({ kind, rides: ROBUSTNESS_RIDES, loggerName }))),
  ]);
  const percent = (share) => (share === null ? 'refused' : `${Math.round(100 * share)} %`);
  const keys = new Map();
  for (const { kind, loggerName, keys: found } of tables)
    for (const { key, given, held, medianZ } of found) {
      const line = keys.get(`${kind} ${key}`) ?? {};
      const cell = given === 0 ? 'refused' : `${percent(held)} (${medianZ.toFixed(2)})`;
      keys.set(`${kind} ${key}`, { ...line, [loggerName]: cell });
    }
  say(
    `\nThe 95 % interval holds the truth, ${COVERAGE_RIDES} rides with a logger of 10 Hz, ${ROBUSTNESS_RIDES} with each worse one (median of |error| ÷ standard uncertainty):`,
  );
  console.table(Object.fromEntries(keys));
  const missed = tables.flatMap(({ kind, loggerName, keys: found }) =>
    found
      .filter(({ given, held }) => given > 0 && (held < 0.9 || (loggerName === ordinary && held > 0.99)))
      .map(({ key, held }) => `${kind} ${key} (${loggerName}): ${percent(held)}`),
  );
  say(missed.length === 0 ? 'All within 90 to 99 %.' : `Outside 90 to 99 %: ${missed.join('; ')}.`);
}

/**
 * Logs as they come and readings by eye: the simulations of the core's own tests, which know nothing of the ride model, each with
 * 400 rides. The table of the last whole run is kept in docs/methods.md.
 */
function benchSimulations() {
  const file = `${root}/.cache/coverage.jsonl`;
  rmSync(file, { force: true });
  const counter = 'packages/core/src/testing/coverage.ts';
  const jest = spawnSync(`${root}/node_modules/.bin/jest`, ['--maxWorkers=2', '--findRelatedTests', counter], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, EBRIX_COVERAGE: file },
  });
  if (!existsSync(file)) throw new Error(`The simulations gave no counts:\n${jest.stderr}`);
  const lines = readFileSync(file, 'utf8').trim().split('\n').map(JSON.parse);
  say('\nThe 95 % interval holds the truth, simulations of their own (median of |error| ÷ standard uncertainty):');
  for (const name of new Set(lines.map(({ simulation }) => simulation))) {
    const found = lines
      .filter(({ simulation }) => simulation === name)
      .map(({ key, given, held, medianZ }) => `${key} ${Math.round(100 * held)} (${medianZ.toFixed(2)}) of ${given}`);
    say(`  ${name}: ${found.join(', ')}`);
  }
}

/** Verdicts on made-up trials; the tables of the last whole run are kept in docs/methods.md. */
async function benchDesigns() {
  say('\nIntervals of each design hold the truth / a difference is said that is not there:');
  console.table(await designCoverage(DESIGN_TRIALS));
  say('\nPower as planned, as judged once / with looks after every outing:');
  console.table(await designPower(DESIGN_TRIALS));
  say('\nLooking five times:');
  console.table(await lookAlarms(DESIGN_TRIALS));
}

/** The setup of the demo with the most checks that apply. */
async function demoSetupFacts() {
  const parts = await import(`${root}/apps/server/dist/demo/bench-parts.js`);
  const { BENCH_SETUPS } = await import(`${root}/apps/server/dist/demo/bench-setups.js`);
  const { setupFitSchema, setupSettingsSchema } = await import(`${root}/packages/contract/dist/index.js`);
  const setup = BENCH_SETUPS.at(-1);
  const find = (list, name) => list.find((part) => part.name === name);
  return {
    bike: find(parts.BIKES, setup.bike),
    kit: find(parts.KITS, setup.kit),
    packs: [find(parts.PACKS, setup.pack)],
    charger: find(parts.CHARGERS, setup.charger),
    addOns: setup.addOns.map((name) => find(parts.ADD_ONS, name)),
    limits: find(parts.LIMITS, setup.limits),
    settings: setupSettingsSchema.parse(setup.settings),
    fit: setupFitSchema.parse(setup.fit),
  };
}

function multiplyTenMillion() {
  let x = 1;
  for (let k = 0; k < 1e7; k++) x = x * 1.0000001 + 1e-9;
  return x;
}

function benchLongLogs() {
  const { plain, read, figures, streamed } = longLogs();
  row('CSV 4 million × 12, streamed, into channels', streamed.ms, 'ms', 'plain parse (udsv)', plain.ms, 12_000);
  row('   peak memory of that process', streamed.mb, 'MB', 'plain parse (udsv)', plain.mb, 600);
  row('CSV 360 000 × 12 into channels', read.ms, 'ms', 'plain parse (udsv)', plain.ms, 900);
  row('   peak memory of that process', read.mb, 'MB', 'plain parse (udsv)', plain.mb, 200);
  row(
    'CSV 360 000 × 12 to channels and figures',
    figures.ms,
    'ms',
    'plain parse (udsv)',
    plain.ms,
    Number((2.2 * plain.ms).toFixed(0)),
  );
  row('   peak memory of that process', figures.mb, 'MB', 'plain parse (udsv)', plain.mb);
}

async function benchStart() {
  const { firstMs, againMs, idleMb, plain } = await startTimes();
  row('start of a built server, new database', firstMs, 'ms', 'node alone', plain.ms, 3000);
  row('   on one that is there', againMs, 'ms', 'node alone', plain.ms, 3000);
  row('   memory of it, idle', idleMb, 'MB', 'node alone', plain.mb, 120);
}

async function benchServer() {
  const cluster = await startThrowawayPostgres();
  const server = await startServer(cluster.url, { hasDemo: false });
  const { url } = server;
  try {
    const get = async (path) => (await fetch(`${url}/api/${path}`)).json();
    const runId = await fillWithRuns(url, cluster.url, makeLongRideCsv(1_000_000), 1);
    const health = await best(10, () => get('health'));
    const detail = await best(1, () => get(`runs/${runId}`));
    const first = await best(1, () => get(`runs/${runId}/strip?bins=800`));
    row('million samples: open run and first chart', detail + first, 'ms', 'health request', health, 150);
    row(
      '   zoom to a tenth',
      await best(5, () => get(`runs/${runId}/strip?bins=800&fromS=20000&toS=30000`)),
      'ms',
      'health request',
      health,
      100,
    );
    row(
      '   zoom to a minute',
      await best(5, () => get(`runs/${runId}/strip?bins=800&fromS=25000&toS=25060`)),
      'ms',
      'health request',
      health,
      100,
    );
    await fillWithParts(url, 500);
    row('list of setups, 500 parts stored', await best(5, () => get('setups')), 'ms', 'health request', health, 100);
    await benchPages(url, (await get('setups'))[0].id, health);
  } finally {
    await server.stop();
    cluster.stop();
  }
}

async function benchStore() {
  say('> 100 000 runs, 2 million figures, 5 000 trials, 20 000 rides');
  const took = await storeTimes(best);
  const request = (what, ms, limit) => row(what, ms, 'ms', 'health request', took.empty, limit);
  request('large store: pages of runs, first to last, and rides', took.lists, 60);
  request('   runs sorted, filtered, searched', took.sorted, 80);
  request('   figures of a setup', took.figures, 80);
  request('   50 trials with their verdicts, seen before', took.trials, 300);
  request('   one trial, its runs, its verdict, seen before', took.oneTrial, 500);
  const dump = 'PostgreSQL’s own packed dump';
  row('   backup', took.backup.seconds, 's', dump, took.dump.seconds);
  row('   size of the backup', took.backup.mb, 'MB', dump, took.dump.mb);
  row('   data package, a file for each log', took.packed.seconds, 's', dump, took.dump.seconds);
  row('   size of the package', took.packed.mb, 'MB', dump, took.dump.mb);
  row('   memory of the server, most', took.packageMb, 'MB', 'size of the package', took.packed.mb);
}

/** `BENCH_LOGGER_S` shortens it while it is worked on. */
async function benchLoggers() {
  const seconds = Number(process.env.BENCH_LOGGER_S ?? 300);
  const cluster = await startThrowawayPostgres();
  const server = await startServer(cluster.url, { hasDemo: false });
  try {
    say(`> 20 loggers at 50 Hz × 12 channels for ${seconds} s`);
    const use = await runLoggers({ url: server.url, pid: server.pid, databaseUrl: cluster.url, loggers: 20, seconds });
    row(`20 loggers × 50 Hz × 12, ${seconds} s: lines lost`, use.lost, '', 'lines sent', 20 * 50 * seconds, 0);
    row(
      '   processor of the server',
      100 * use.cpuShare,
      '% of a core',
      'JSON.parse of the lines',
      100 * use.parseShare,
    );
    row('   memory of the server, most', use.mostMb, 'MB', 'before the loggers', use.beforeMb);
    row('   from sending to on disk, 99.9 %', use.slowestAckMs, 'ms', 'time between writes (250 ms)', 250, 1000);
  } finally {
    await server.stop();
    cluster.stop();
  }
}

/** Two servers on one database. */
async function benchMany() {
  const seconds = Number(process.env.BENCH_CROWD_S ?? 120);
  say(`> 200 loggers at 10 Hz and 50 consoles on two servers for ${seconds} s`);
  const use = await crowd({ loggers: 200, hz: 10, consoles: 50, seconds });
  row(`200 loggers × 10 Hz, 50 consoles, two servers: lines lost`, use.lost, '', 'lines sent', 2000 * seconds, 0);
  row('   processor of both', 100 * use.cpuShare, '% of a core', 'JSON.parse of the lines', 100 * use.parseShare);
  row('   from sending to on disk, 99.9 %', use.slowestAckMs, 'ms', 'time between writes (250 ms)', 250, 1000);
  const one = await importsPerMinute(1, 0, 40);
  const two = await importsPerMinute(2, 2, 40);
  row('imports of 36 000 × 12 a minute, two servers and two workers', two, '', 'one server', one);
  // With no more processors than one server fills by itself there is nothing to be gained.
  const hasRoom = availableParallelism() >= 4;
  row(
    `   times those of one server, ${availableParallelism()} cores`,
    two / one,
    '',
    'one',
    1,
    hasRoom ? 1.8 : undefined,
    true,
  );
}

async function benchPages(url, setupId, health) {
  const { usable, packed, raw, setup, compose } = await pageTimes(url, setupId);
  row('setup page interactive after load, 500 parts', setup, 'ms', 'health request', health, 300);
  row('   composing it, choices and sums there', compose, 'ms', 'health request', health, 200);
  const plain = await best(5, () => fetch(url).then((r) => r.text()));
  row('first page usable', usable, 'ms', 'plain fetch of its HTML', plain, 800);
  row('JavaScript of the first page, gzipped', packed / 1024, 'kB', 'the same, not packed', raw / 1024, 180);
}
