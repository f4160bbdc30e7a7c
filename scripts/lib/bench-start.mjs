import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { startThrowawayPostgres } from './postgres.mjs';
import { startServer } from './server.mjs';

const IDLE_AFTER_MS = 15_000;

/**
 * The built server: ms until it answers, on a new database and on one that is there, and MB that it holds when nobody asks anything.
 * `plain`: what the program that runs it takes by itself.
 */
export async function startTimes() {
  const cluster = await startThrowawayPostgres();
  try {
    const first = await started(cluster.url);
    await first.server.stop();
    const again = await started(cluster.url);
    await new Promise((resolve) => setTimeout(resolve, IDLE_AFTER_MS));
    const status = readFileSync(`/proc/${again.server.pid}/status`, 'utf8');
    const idleMb = Number(/VmRSS:\s+(\d+)/.exec(status)[1]) / 1024;
    await again.server.stop();
    const before = performance.now();
    const { stdout } = spawnSync(process.execPath, ['-p', 'process.memoryUsage().rss / 1024 / 1024'], {
      encoding: 'utf8',
    });
    const plain = { ms: performance.now() - before, mb: Number(stdout) };
    return { firstMs: first.ms, againMs: again.ms, idleMb, plain };
  } finally {
    cluster.stop();
  }
}

async function started(databaseUrl) {
  const before = performance.now();
  const server = await startServer(databaseUrl, { hasDemo: false });
  return { server, ms: performance.now() - before };
}
