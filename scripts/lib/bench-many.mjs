import { fork } from 'node:child_process';
import { makeWideCsv } from './bench-data.mjs';
import { runLoggers } from './bench-loggers.mjs';
import { startThrowawayPostgres } from './postgres.mjs';
import { root } from './say.mjs';
import { startServer } from './server.mjs';

const post = async (url, path, body) => {
  const response = await fetch(`${url}/api/${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw new Error(await response.text());
  return response.json();
};

/** What a ride stands on, as small as it can be. */
async function addBench(url) {
  const bike = await post(url, 'bench/bikes', { name: 'Bike' });
  const kit = await post(url, 'bench/kits', { name: 'Kit', motorKind: 'mid' });
  const pack = await post(url, 'bench/packs', {
    name: 'Pack',
    chemistry: 'li-ion-nmc',
    capacityAh: 14,
    nominalVoltageV: 48,
  });
  const revision = { bikeId: bike.id, kitId: kit.id, packIds: [pack.id], settings: {}, change: 'new' };
  const setup = await post(url, 'setups', { name: 'Setup', revision });
  const course = await post(url, 'courses', { name: 'Course', kind: 'loop', surface: 'asphalt' });
  const outing = await post(url, 'outings', { title: 'Outing', date: '2026-01-01' });
  return { setupRevisionId: setup.revisions[0].id, courseId: course.id, outingId: outing.id };
}

async function startWorker(databaseUrl) {
  const child = fork(`${root}/apps/server/dist/bundle/worker.js`, [], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
    env: { ...process.env, NODE_ENV: 'production', DATABASE_URL: databaseUrl },
  });
  await new Promise((resolve, reject) => {
    child.stdout.once('data', resolve);
    child.once('exit', (code) => reject(new Error(`The worker ended at once (exit ${code}).`)));
  });
  const ended = new Promise((resolve) => child.once('exit', resolve));
  return { stop: () => (child.kill('SIGTERM'), ended) };
}

/** Servers on one database of their own, with as many workers beside them; `work` gets their addresses. */
async function withServers(servers, workers, work) {
  const cluster = await startThrowawayPostgres();
  const started = [];
  const extra = [];
  try {
    for (let k = 0; k < servers; k++) started.push(await startServer(cluster.url, { hasDemo: false }));
    for (let k = 0; k < workers; k++) extra.push(await startWorker(cluster.url));
    return await work({
      urls: started.map(({ url }) => url),
      pids: started.map(({ pid }) => pid),
      databaseUrl: cluster.url,
    });
  } finally {
    for (const worker of extra) await worker.stop();
    for (const server of started) await server.stop();
    cluster.stop();
  }
}

/** Files of 36 000 × 12 that become runs in a minute, once as many have warmed up every thread of them. */
export function importsPerMinute(servers, workers, files) {
  return withServers(servers, workers, async ({ urls }) => {
    const assignment = await addBench(urls[0]);
    await importAll(urls, assignment, { files, salt: 0 });
    return (60_000 * files) / (await importAll(urls, assignment, { files, salt: files }));
  });
}

/** Takes files in, has them made runs, and tells how long the second took, ms. */
async function importAll(urls, assignment, { files, salt }) {
  const csv = makeWideCsv(36_000);
  const items = [];
  // One after the other: a server takes in only so many at once.
  for (let k = 0; k < files; k++) {
    const url = urls[k % urls.length];
    const form = new FormData();
    // Each another file: the same one comes in once.
    form.append('files', new Blob([`${csv}\n${3600 + salt + k},20,0,0,50,1,20,20,60,0,100,1`]), `${salt + k}.csv`);
    const response = await fetch(`${url}/api/imports`, { method: 'POST', body: form });
    if (!response.ok) throw new Error(await response.text());
    const [file] = await response.json();
    items.push({ url, item: { importId: file.id, mapping: file.inspection.mapping, assignment } });
  }
  const gatesWaiver = { by: 'Bench', reason: 'Only for measuring times.' };
  const start = performance.now();
  for (const { url, item } of items) await post(url, 'imports/start', { items: [{ ...item, gatesWaiver }] });
  for (;;) {
    const all = await (await fetch(`${urls[0]}/api/imports`)).json();
    const failed = all.find(({ status }) => status === 'failed');
    if (failed) throw new Error(failed.problem.message);
    if (all.filter(({ runId }) => runId).length >= salt + files) break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return performance.now() - start;
}

/** Loggers and consoles on two servers: lines lost, and what the servers took of the processor. */
export function crowd({ loggers, hz, consoles, seconds }) {
  return withServers(2, 0, async ({ urls, pids, databaseUrl }) => {
    const { setupRevisionId: revisionId, courseId } = await addBench(urls[0]);
    const stopping = new AbortController();
    let heard = 0;
    for (let k = 0; k < consoles; k++) {
      const url = urls[k % urls.length];
      const ride = await post(url, 'rides', { revisionId, courseId, testKind: 'range' });
      const { body } = await fetch(`${url}/api/rides/${ride.id}/events`, { signal: stopping.signal });
      const hear = async () => {
        for await (const piece of body) heard += piece.length;
      };
      void hear().catch(() => undefined);
    }
    const use = await runLoggers({ url: urls, pid: pids, databaseUrl, loggers, hz, seconds });
    stopping.abort();
    return { ...use, heard };
  });
}
