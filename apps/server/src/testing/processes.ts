import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';

/** The built server as processes of its own, so that they can be killed. `npm test` builds it first. */
export const DIST = join(__dirname, '../../dist');
const PATIENCE_MS = 90_000;

export const wait = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

export async function untilTrue<T>(look: () => Promise<T | undefined>, what: string): Promise<T> {
  const until = Date.now() + PATIENCE_MS;
  while (Date.now() < until) {
    const found = await look();
    if (found !== undefined) return found;
    await wait(60);
  }
  throw new Error(`did not happen: ${what}`);
}

/** A program of the built server; `main.js` is waited for until it answers. */
export async function startProcess(
  program: 'main.js' | 'worker.js',
  databaseUrl: string,
  port: number,
): Promise<ChildProcess> {
  const child = spawn(process.execPath, [join(DIST, program)], {
    env: { PATH: process.env['PATH'], DATABASE_URL: databaseUrl, PORT: String(port), LOG_LEVEL: 'fatal' },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (program === 'main.js')
    await untilTrue(
      () =>
        fetch(`http://127.0.0.1:${port}/api/health`).then(
          ({ ok }) => (ok ? true : undefined),
          () => undefined,
        ),
      'the server answers',
    );
  return child;
}
