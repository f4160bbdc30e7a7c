import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { makeWideCsv } from './bench-data.mjs';
import { root } from './say.mjs';

/**
 * Logs of 360 000 and of four million lines, ms and MB: parsed by a general library (`plain`), read into channels, and to figures; the long one in
 * pieces (`streamed`). Each in a process of its own, so that its memory is its own.
 */
export function longLogs() {
  const file = `${root}/.cache/bench-360k.csv`;
  writeFileSync(file, `${makeWideCsv(360_000)}\n`);
  const script = `
    import { readFileSync } from 'node:fs';
    import { inferSchema, initParser } from 'udsv';
    import { readLog } from '${root}/packages/core/dist/logs/index.js';
    const bytes = readFileSync('${file}');
    const plain = () => { const text = bytes.toString(); initParser(inferSchema(text)).stringArrs(text); };
    const figures = async () => {
      const { TASKS } = await import('${root}/apps/server/dist/compute/tasks.js');
      return () => TASKS.readRide({ bytes, mapping: null, runs: [{ testKind: 'range', context: {} }] });
    };
    const work = { plain: () => plain, read: () => () => readLog(bytes), figures }[process.argv[1]];
    const begin = await work();
    const start = performance.now();
    await begin();
    console.log(JSON.stringify({ ms: performance.now() - start, mb: process.resourceUsage().maxRSS / 1024 }));`;
  /** The best of a few, in turns. */
  const found = {};
  for (let k = 0; k < 3; k++)
    for (const which of ['plain', 'read', 'figures']) {
      const { stdout } = spawnSync(process.execPath, ['--input-type=module', '-e', script, which], {
        cwd: root,
        encoding: 'utf8',
      });
      const one = JSON.parse(stdout);
      if (!(found[which]?.ms < one.ms)) found[which] = one;
    }
  return { ...found, streamed: readStreamed(file) };
}

/** The same lines over and over, up to four million: never whole in memory. */
function readStreamed(file) {
  const script = `
    import { createReadStream } from 'node:fs';
    import { readLogInPieces } from '${root}/packages/core/dist/logs/index.js';
    const times = Math.floor(4_000_000 / 360_000);
    async function* pieces() {
      let left = 4_000_000 - times * 360_000;
      for (let k = 0; k <= times; k++) {
        let isHeader = k > 0;
        for await (const piece of createReadStream('${file}', { highWaterMark: 1024 * 1024 })) {
          let from = isHeader ? piece.indexOf(10) + 1 : 0;
          let to = piece.length;
          if (k === times) {
            for (to = from; left > 0 && to < piece.length; to++) if (piece[to] === 10) left--;
          }
          isHeader = false;
          yield piece.subarray(from, to);
        }
      }
    }
    const start = performance.now();
    const outcome = await readLogInPieces(pieces, undefined, 300 * 1024 * 1024);
    if (!outcome.ok || outcome.value.timeS.length !== 4_000_000) throw new Error(JSON.stringify(outcome.problem ?? outcome.value.timeS.length));
    console.log(JSON.stringify({ ms: performance.now() - start, mb: process.resourceUsage().maxRSS / 1024 }));`;
  const { stdout, stderr } = spawnSync(process.execPath, ['--input-type=module', '-e', script], {
    cwd: root,
    encoding: 'utf8',
  });
  if (stdout === '') throw new Error(`The long log was not read:\n${stderr}`);
  return JSON.parse(stdout);
}
