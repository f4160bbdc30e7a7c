import { spawn, spawnSync } from 'node:child_process';
import { root, refuse, say } from './say.mjs';

/** Runs a command to its end with its output shown; refuses with `what` when it fails. */
export function runShown(what, command, args, options = {}) {
  say(`> ${what}`);
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (result.error) refuse(`${what}: ${command} could not be started (${result.error.message}).`);
  if (result.status !== 0) refuse(`${what} failed (exit ${result.status ?? result.signal}).`);
}

/** Runs a command and gives back what it printed. */
export function runQuiet(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: root, encoding: 'utf8', ...options });
  return { ok: !result.error && result.status === 0, output: `${result.stdout ?? ''}${result.stderr ?? ''}`.trim() };
}

/** Two versions of TypeScript lie side by side: the compiler that is a program of its own, and the one the import rules are read by. */
const COMPILER = 'typescript7/bin/tsc';

export function bin(name) {
  return `${root}/node_modules/${name === 'tsc' ? COMPILER : `.bin/${name}`}`;
}

/** Starts several commands side by side, prints each one's output when it ends, refuses if any failed. */
export async function runTogether(tasks) {
  const ended = await Promise.all(
    tasks.map(
      ({ what, command, args, options }) =>
        new Promise((resolve) => {
          const started = Date.now();
          const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], ...options });
          let output = '';
          child.stdout.on('data', (chunk) => (output += chunk));
          child.stderr.on('data', (chunk) => (output += chunk));
          child.on('error', (error) => (output += error.message));
          child.on('close', (code) => {
            say(`> ${what} (${((Date.now() - started) / 1000).toFixed(1)} s)${code === 0 ? '' : ' FAILED'}`);
            if (output.trim() && code !== 0) say(output.trim());
            resolve({ what, ok: code === 0 });
          });
        }),
    ),
  );
  const failed = ended.filter(({ ok }) => !ok);
  if (failed.length > 0) refuse(`Failed: ${failed.map(({ what }) => what).join(', ')}.`);
}
