import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { refuse, root, say } from './say.mjs';

const LOCK = `${root}/.cache/preparing.json`;
const PATIENCE_MS = 900_000;
const LOOK_EACH_MS = 500;

/** Two starts in one folder would tear down each other's packages and builds: the second waits for the first. */
export function alone(work) {
  mkdirSync(`${root}/.cache`, { recursive: true });
  takeLock();
  try {
    return work();
  } finally {
    rmSync(LOCK, { force: true });
  }
}

function takeLock() {
  const until = Date.now() + PATIENCE_MS;
  for (let isToldOf = false; ;) {
    try {
      writeFileSync(LOCK, JSON.stringify({ pid: process.pid }), { flag: 'wx' });
      return;
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
    }
    const pid = holder();
    if (pid !== undefined && !isNode(pid)) {
      // Of one that was killed.
      rmSync(LOCK, { force: true });
      continue;
    }
    if (Date.now() > until) refuse(`Another start still installs or builds here (process ${pid}); see ${LOCK}.`);
    if (!isToldOf) say('Another start installs or builds here; waiting for it.');
    isToldOf = true;
    Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, LOOK_EACH_MS);
  }
}

/** `undefined` while the other is just writing it. */
function holder() {
  try {
    return JSON.parse(readFileSync(LOCK, 'utf8')).pid;
  } catch {
    return undefined;
  }
}

/** After a crash the number may belong to something else. */
function isNode(pid) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('node');
  } catch {
    return false;
  }
}
