import { fork } from 'node:child_process';
import { freePort } from './postgres.mjs';
import { refuse, root } from './say.mjs';

const DEMO_PATIENCE_MS = 1_200_000;

/** The built server as a child that can be talked to. A server has little to do between requests: small steps of its garbage collector keep it small. */
export function forkServer(env) {
  return fork(`${root}/apps/server/dist/bundle/main.js`, [], {
    cwd: root,
    execArgv: [...process.execArgv, '--max-semi-space-size=2'],
    env: { ...process.env, NODE_ENV: 'production', EBRIX_WEB: `${root}/apps/web/dist`, ...env },
  });
}

/** The built server on a free port and a database of its own, for tests and benchmarks. */
export async function startServer(databaseUrl, { hasDemo }) {
  const port = await freePort();
  const child = forkServer({
    PORT: String(port),
    DATABASE_URL: databaseUrl,
    EBRIX_DEMO: hasDemo ? 'yes' : 'no',
  });
  const ended = new Promise((resolve) => child.once('exit', resolve));
  await new Promise((resolve, reject) => {
    child.once('message', resolve);
    child.once('exit', (code) => reject(new Error(`The server ended at once (exit ${code}).`)));
  });
  return {
    url: `http://127.0.0.1:${port}`,
    pid: child.pid,
    stop: async () => {
      child.kill('SIGTERM');
      await ended;
    },
  };
}

/** Until the demo data is there. */
export async function waitForDemo(url) {
  const until = Date.now() + DEMO_PATIENCE_MS;
  while (Date.now() < until) {
    const { loading, problem } = await (await fetch(`${url}/api/demo`)).json();
    if (problem) refuse(problem);
    if (loading === null) return;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
  refuse('The demo data was not loaded in time.');
}
