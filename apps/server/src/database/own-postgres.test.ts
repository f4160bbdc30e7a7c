import { execFile, spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';

const run = promisify(execFile);
const LIBRARY = join(__dirname, '../../../../scripts/lib/postgres.mjs');

/** Runs a piece of module code against the private cluster of a folder; it prints JSON. */
async function inModule(folder: string, code: string): Promise<unknown> {
  const script = `
    import { readFileSync, statSync } from 'node:fs';
    import pg from 'pg';
    import { startPostgres, requireFreePort } from '${LIBRARY}';
    const print = console.log;
    const query = async (url, text) => {
      const client = new pg.Client({ connectionString: url });
      await client.connect();
      try { return (await client.query(text)).rows; } finally { await client.end(); }
    };
    ${code}`;
  const { stdout } = await run(process.execPath, ['--input-type=module', '-e', script, folder], {
    cwd: join(__dirname, '../..'),
  });
  return JSON.parse(stdout.trim().split('\n').at(-1)!) as unknown;
}

describe('a first start that is killed on the way', () => {
  it('leaves nothing that keeps the next one from starting', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'ebrix-first-'));
    chmodSync(folder, 0o755);
    try {
      for (const afterMs of [120, 350, 700, 1100, 1600, 2300]) {
        const child = spawn(
          process.execPath,
          [
            '--input-type=module',
            '-e',
            `import { startPostgres } from '${LIBRARY}'; await startPostgres(process.argv[1]);`,
            folder,
          ],
          { stdio: 'ignore' },
        );
        const ended = new Promise((resolve) => child.once('exit', resolve));
        await new Promise((resolve) => setTimeout(resolve, afterMs));
        child.kill('SIGKILL');
        await ended;
      }
      const result = await inModule(
        folder,
        `const own = await startPostgres(process.argv[1]);
        const [{ one }] = await query(own.url, 'select 1 as one');
        own.stop();
        print(JSON.stringify(one));`,
      );
      expect(result).toBe(1);
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  });

  it('a missing or a wrong password is said in a sentence, and nothing is left running', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'ebrix-password-'));
    chmodSync(folder, 0o755);
    try {
      const result = await inModule(
        folder,
        `const fs = await import('node:fs');
        const own = await startPostgres(process.argv[1]);
        const file = own.folder + '/password';
        own.stop();
        const tried = async () => startPostgres(process.argv[1]).then(() => 'started', (error) => error.message);
        fs.writeFileSync(file, 'another');
        const wrong = await tried();
        const wasLeft = own.isAlive();
        fs.rmSync(file);
        const missing = await tried();
        print(JSON.stringify({ wrong, missing, wasLeft, isLeft: own.isAlive() }));`,
      );
      expect(result).toEqual({
        wrong: expect.stringMatching(/password.*is not the one/) as string,
        missing: expect.stringMatching(/password.*is missing/) as string,
        wasLeft: false,
        isLeft: false,
      });
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  });
});

describe("Ebrix's own database", () => {
  let folder: string;
  beforeAll(() => (folder = mkdtempSync(join(tmpdir(), 'ebrix-own-'))));
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  it('loses nothing committed when it is killed, is found running the second time, and listens on loopback only', async () => {
    const result = await inModule(
      folder,
      `const folder = process.argv[1];
      (await import('node:fs')).chmodSync(folder, 0o755);
      const first = await startPostgres(folder);
      await query(first.url, 'create table kept (n integer)');
      await query(first.url, 'insert into kept select generate_series(1, 500)');
      const again = await startPostgres(folder);
      const [listen] = await query(first.url, "show listen_addresses");
      const pid = Number(readFileSync(first.folder + '/data/postmaster.pid', 'utf8').split('\\n')[0]);
      process.kill(pid, 'SIGKILL');
      await new Promise((resolve) => setTimeout(resolve, 500));
      const second = await startPostgres(folder);
      const [{ count }] = await query(second.url, 'select count(*)::int as count from kept');
      const mode = (statSync(second.folder + '/password').mode & 0o777).toString(8);
      const dataMode = (statSync(second.folder + '/data').mode & 0o777).toString(8);
      second.stop();
      print(JSON.stringify({ count, wasRunning: again.wasRunning, samePort: again.port === first.port, listen: listen.listen_addresses, mode, dataMode, alive: second.isAlive() }));`,
    );
    expect(result).toEqual({
      count: 500,
      wasRunning: true,
      samePort: true,
      listen: '127.0.0.1',
      mode: '600',
      dataMode: '700',
      alive: false,
    });
  });
});
