import { spawn } from 'node:child_process';
import { mkdirSync, watch } from 'node:fs';
import { join, resolve } from 'node:path';
import { buildChanged } from './lib/build.mjs';
import { bin } from './lib/command.mjs';
import { installPackages } from './lib/install.mjs';
import { defaultDataFolder, requireFreePort, startPostgres } from './lib/postgres.mjs';
import { refuse, root, runScript, say } from './lib/say.mjs';

const HOST = '127.0.0.1';
const SERVER_PORT = 4181;
const PAGE_PORT = 5173;

/** Server and page that follow the sources, on a database of their own: nothing of `npm start` is touched. */
await runScript(async () => {
  const dataFolder = join(resolve(defaultDataFolder()), 'dev');
  mkdirSync(dataFolder, { recursive: true });
  for (const port of [SERVER_PORT, PAGE_PORT])
    await requireFreePort(port, HOST).catch(() => refuse(`Port ${port} is in use; is another "npm run dev" running?`));
  installPackages();
  buildChanged(['core', 'contract', 'server']);
  const database = await startPostgres(dataFolder);
  const env = {
    ...process.env,
    HOST,
    PORT: String(SERVER_PORT),
    DATABASE_URL: database.url,
    EBRIX_DEMO: process.argv.includes('--demo') ? 'yes' : 'no',
    LOG_LEVEL: process.env.LOG_LEVEL ?? 'info',
  };
  const inServer = { cwd: `${root}/apps/server`, env };
  const children = [
    start('core', bin('tsc'), ['-p', 'packages/core/tsconfig.build.json', '--watch', '--preserveWatchOutput']),
    start('contract', bin('tsc'), ['-p', 'packages/contract/tsconfig.build.json', '--watch', '--preserveWatchOutput']),
    start('server', process.execPath, ['--watch', '--watch-preserve-output', 'dist/main.js'], inServer),
    start('page', bin('vite'), ['--port', String(PAGE_PORT), '--strictPort'], { cwd: `${root}/apps/web`, env }),
  ];
  say(`\nPage with hot reload: http://${HOST}:${PAGE_PORT} (server on ${SERVER_PORT}). Ctrl-C stops all of it.`);
  let isStopping = false;
  const stop = (code) => {
    if (isStopping) return;
    isStopping = true;
    for (const child of children) child.kill('SIGTERM');
    void Promise.all(children.map((child) => new Promise((ended) => child.once('exit', ended)))).then(() => {
      database.stop();
      process.exit(code);
    });
  };
  translateOnChange(inServer);
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => stop(0));
  for (const child of children) child.on('exit', (code) => !isStopping && stop(code || 1));
});

/** Sources of the server into `dist`, a moment after the last change; the server there starts again by itself. */
function translateOnChange(options) {
  let timer;
  watch(`${root}/apps/server/src`, { recursive: true }, (_, name) => {
    if (!name?.endsWith('.ts') || name.endsWith('.test.ts')) return;
    clearTimeout(timer);
    timer = setTimeout(
      () => start('server', bin('swc'), ['src', '-d', 'dist', '--strip-leading-paths', '--quiet'], options),
      200,
    );
  });
}

/** A program whose lines are told apart by its name. */
function start(name, command, args, options = {}) {
  const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], ...options });
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (chunk) => {
      for (const line of chunk.toString().trimEnd().split('\n'))
        if (line.trim() !== '') say(`${name.padEnd(9)}${line}`);
    });
  return child;
}
