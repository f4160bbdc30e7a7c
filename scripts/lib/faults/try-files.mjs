import { say } from '../say.mjs';
import { hostileFiles } from './hostile-files.mjs';

const ANSWERED_WITHIN_MS = 15_000;
const LOOK_EVERY_MS = 200;
/** Of a page that somebody looks at meanwhile. */
const USABLE_MS = 2000;

/** Sends hostile files until `isOver`; every one must be answered in time and not by a fault, and pages stay usable. */
export async function tryFiles(url, random, isOver) {
  const found = { files: 0, slow: 0, faults: 0, slowPages: 0, slowestFileMs: 0, slowestPageMs: 0, statuses: {} };
  const course = await fetch(`${url}/api/courses`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ name: `Fuzzed ${Date.now()}`, kind: 'loop', surface: 'asphalt', lengthM: 2000 }),
  }).then((response) => response.json());
  const files = hostileFiles(random);
  let isDone = false;
  const looking = (async () => {
    while (!isDone) {
      const began = performance.now();
      await fetch(`${url}/api/setups`).then((response) => response.text());
      const ms = performance.now() - began;
      found.slowestPageMs = Math.max(found.slowestPageMs, Math.round(ms));
      if (ms > USABLE_MS) found.slowPages++;
      await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
    }
  })();
  while (!isOver(found.files)) {
    const { path, name, bytes } = files.next();
    const form = new FormData();
    const file = new Blob([bytes]);
    const ending = path === 'photos' ? 'png' : path.endsWith('package') ? 'zip' : 'csv';
    form.append(path === 'imports' ? 'files' : 'file', file, `hostile.${ending}`);
    if (path === 'photos') {
      form.append('owner', 'setup');
      form.append('ownerId', course.id);
    }
    if (path === 'quick-look/log') form.append('test', 'range');
    if (path === 'quick-look/table') for (const key of ['setup', 'value']) form.append(key, key);
    const began = performance.now();
    const send = () =>
      fetch(`${url}/api/${path.replace('{course}', course.id)}`, {
        method: 'POST',
        body: form,
        signal: AbortSignal.timeout(60_000),
      });
    // A line that the server ended after its last answer may be taken for an open one: once more on a new one.
    const status = await send()
      .catch((error) => (error.name === 'TimeoutError' ? Promise.reject(error) : send()))
      .then(
        async (response) => {
          const text = await response.text();
          if (response.status >= 500 && response.status !== 503)
            say(`${response.status} ${path} ${name}: ${text.slice(0, 300)}`);
          return response.status;
        },
        (error) => {
          say(`${path} ${name}: ${error}`);
          return 0;
        },
      );
    const ms = performance.now() - began;
    found.files++;
    found.statuses[status] = (found.statuses[status] ?? 0) + 1;
    found.slowestFileMs = Math.max(found.slowestFileMs, Math.round(ms));
    if (ms > ANSWERED_WITHIN_MS) {
      found.slow++;
      say(`${path} ${name} (${bytes.length} bytes): ${(ms / 1000).toFixed(1)} s`);
    }
    if (status === 0 || (status >= 500 && status !== 503)) found.faults++;
  }
  isDone = true;
  await looking;
  return found;
}
