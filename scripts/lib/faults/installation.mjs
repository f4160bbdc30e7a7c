import { spawn } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { chooseFolder, freePort } from '../postgres.mjs';
import { root } from '../say.mjs';

export const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
const PATIENCE_MS = 120_000;

/** Looks again until it holds; undefined once patience is over. */
export async function until(look, patienceMs = PATIENCE_MS) {
  const end = Date.now() + patienceMs;
  while (Date.now() < end) {
    const found = await Promise.resolve(look()).catch(() => undefined);
    if (found !== undefined && found !== false) return found;
    await wait(100);
  }
  return undefined;
}

/** Ebrix as a person starts it, on a data folder of its own, to be killed in every way. */
export class Installation {
  #starter;
  output = '';

  constructor(folder) {
    this.folder = folder;
  }

  get url() {
    return `http://127.0.0.1:${this.port}`;
  }

  async start() {
    this.port ??= await freePort();
    this.#starter = spawn(process.execPath, [`${root}/scripts/start.mjs`, '--empty'], {
      cwd: root,
      env: { ...process.env, EBRIX_DATA: this.folder, PORT: String(this.port), DATABASE_URL: '' },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    for (const stream of [this.#starter.stdout, this.#starter.stderr])
      stream.on('data', (piece) => (this.output = `${this.output}${piece}`.slice(-4000)));
  }

  isWell() {
    return fetch(`${this.url}/api/health`, { signal: AbortSignal.timeout(5000) }).then(({ ok }) => ok);
  }

  async untilWell() {
    return (await until(() => this.isWell())) === true;
  }

  hasEnded() {
    return this.#starter.exitCode !== null || this.#starter.signalCode !== null;
  }

  get starter() {
    return this.#starter.pid;
  }

  /** The server of this starter; its database's first process is no child of it for long. */
  get server() {
    return childrenOf(this.#starter.pid).find((pid) => commandOf(pid).includes('apps/server/dist/bundle/main.js'));
  }

  get database() {
    const file = join(chooseFolder(this.folder), 'data', 'postmaster.pid');
    return existsSync(file) ? Number(readFileSync(file, 'utf8').split('\n')[0]) : undefined;
  }

  kill(pid, signal = 'SIGKILL') {
    try {
      if (pid) process.kill(pid, signal);
    } catch {
      // It was gone already.
    }
  }

  killAll() {
    const all = [this.#starter.pid, this.server, this.database];
    for (const pid of all) this.kill(pid);
  }

  /** As somebody ends it with Ctrl-C. */
  async stop() {
    this.kill(this.#starter.pid, 'SIGTERM');
    await until(() => this.hasEnded(), 30_000);
  }
}

function childrenOf(parent) {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map(Number)
    .filter((pid) => {
      try {
        return Number(readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1].split(' ')[1]) === parent;
      } catch {
        return false;
      }
    });
}

function commandOf(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
  } catch {
    return '';
  }
}
