import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';

const run = promisify(execFile);
const DIST = join(__dirname, '../../dist/compute/compute-pool.js');

/** Runs code against the built pool, whose threads Jest cannot start; it prints JSON. */
async function withPool(limits: object, code: string): Promise<unknown> {
  const script = `
    import { ComputePool } from '${DIST}';
    class Pool extends ComputePool { constructor() { super(${JSON.stringify(limits)}); } }
    const pool = new Pool();
    const bytes = (rows) => new TextEncoder().encode('setup,value\\n' + Array.from({ length: rows }, (_, k) => 'S' + (k % 2) + ',' + Math.sin(k * 7.3)).join('\\n'));
    const table = (rows) => pool.run('table', { bytes: bytes(rows), columns: { setup: 'setup', value: 'value' },
      smallestDifference: { kind: 'absolute', value: 1 }, better: 'less', seed: 1, resamples: 1_000_000 });
    const small = () => pool.run('tableColumns', { bytes: bytes(4) });
    const codeOf = (promise) => promise.then((end) => (end.ok ? 'ok' : end.problem.code), (error) => error.code ?? error.message);
    ${code}
    await pool.onApplicationShutdown();`;
  const { stdout } = await run(process.execPath, ['--input-type=module', '-e', script], {
    cwd: join(__dirname, '../..'),
  });
  return JSON.parse(stdout.trim().split('\n').at(-1)!) as unknown;
}

/** Longer than a thread needs to start on a busy machine; the slow task would take hours. */
const WORK_MS = 8000;

describe('the pool of threads', () => {
  it('stops a task that takes too long, and its thread is replaced: the next one is answered', async () => {
    const limits = { threads: 1, waitMs: 60_000, workMs: WORK_MS, memoryMb: 512 };
    const ends = await withPool(
      limits,
      `const first = await codeOf(small());
       const slow = await codeOf(table(90000));
       const next = await codeOf(small());
       console.log(JSON.stringify([first, slow, next]));`,
    );
    expect(ends).toEqual(['ok', 'took-too-long', 'ok']);
  });

  it('says that it is busy when no thread becomes free, and loses nobody who waits', async () => {
    const limits = { threads: 1, waitMs: 2000, workMs: WORK_MS, memoryMb: 512 };
    const ends = await withPool(
      limits,
      `const slow = codeOf(table(90000));
       const busy = await Promise.all([codeOf(small()), codeOf(small())]);
       await slow;
       // The replaced thread starts.
       await codeOf(small());
       const after = await Promise.all([1, 2, 3].map(() => codeOf(small())));
       console.log(JSON.stringify([busy, after]));`,
    );
    expect(ends).toEqual([
      ['busy', 'busy'],
      ['ok', 'ok', 'ok'],
    ]);
  });

  it('ends a task whose client has left, and the thread takes the next one', async () => {
    // Left to itself it would outlast this test.
    const limits = { threads: 1, waitMs: 60_000, workMs: 3_600_000, memoryMb: 512 };
    const ends = await withPool(
      limits,
      `const { endWithClient } = await import('${join(__dirname, '../../dist/common/client-gone.js')}');
       const { EventEmitter } = await import('node:events');
       const asked = (work) => {
         const response = Object.assign(new EventEmitter(), { writableFinished: false });
         let end;
         endWithClient({}, response, () => (end = codeOf(work())));
         return { end, leave: () => response.emit('close') };
       };
       await codeOf(small());
       const slow = asked(() => table(90000));
       const behind = asked(() => table(90000));
       await new Promise((resolve) => setTimeout(resolve, 300));
       behind.leave();
       slow.leave();
       console.log(JSON.stringify([(await slow.end) !== 'ok', (await behind.end) !== 'ok', await codeOf(small())]));`,
    );
    expect(ends).toEqual([true, true, 'ok']);
  });

  it('stops a task that needs too much memory', async () => {
    const limits = { threads: 1, waitMs: 20_000, workMs: 60_000, memoryMb: 24 };
    const ends = await withPool(
      limits,
      `const large = await codeOf(pool.run('tableColumns', { bytes: bytes(99000) }));
       console.log(JSON.stringify(large));`,
    );
    expect(ends).toBe('too-much-memory');
  });
});
