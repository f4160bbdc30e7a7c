import { execFileSync, spawn } from 'node:child_process';
import { createWriteStream, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { ZipFile } from 'yazl';
import { pipeline } from 'node:stream/promises';
import type { Readable } from 'node:stream';
import type { Backup, BackupList } from '@ebrix/contract';
import { CONFIG, type Config } from '../common/config.js';
import { KNEX } from '../database/database.module.js';
import { connect, urlOfDatabase } from '../database/connect.js';
import { migrateWithCare } from '../database/migrate.js';
import { MigrationSource } from '../database/migration-source.js';
import { makeBench } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';
import { startTestApp, type TestApp } from '../testing/test-app.js';
import { readManifest, readThrough, restoreBackup, writeBackup, type Manifest } from './backup-file.js';
import { BackupService } from './backup.service.js';
import { RetentionRepository } from './retention.repository.js';
import { TrashRepository } from './trash.repository.js';
import { switchDatabases } from './switch-databases.js';

const BIN = readdirSync('/usr/lib/postgresql')
  .sort((a, b) => Number(b) - Number(a))
  .map((version) => `/usr/lib/postgresql/${version}/bin`)
  .find((bin) => existsSync(`${bin}/pg_dump`))!;

let server: TestApp;
let folder: string;
let databaseUrl: string;
let database: Knex;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'ebrix-backups-'));
  server = await startTestApp((url) => Promise.resolve(void (databaseUrl = url)));
  database = server.app.get<Knex>(KNEX);
  const bench = await makeBench(server);
  const setup = await bench.addSetup('Round');
  await bench.addRun(makeRideCsv({ minutes: 2 }), setup);
});
afterAll(async () => {
  await server.close();
  rmSync(folder, { recursive: true, force: true });
});

const tools = () => ({ databaseUrl, bin: BIN });
let made = 0;
const nextName = (): string => `copy_${process.pid}_${made++}`;

/** Every row of every table, as one hash a table. */
async function hashes(of: Knex): Promise<Record<string, string>> {
  const { rows } = await of.raw<{ rows: { name: string }[] }>(
    `select relname as name from pg_class where relnamespace = 'public'::regnamespace and relkind = 'r'
     and relname not like 'sign_in%' and relname not like 'knex%lock'`,
  );
  const found: Record<string, string> = {};
  for (const { name } of rows) {
    const { rows: all } = await of.raw<{ rows: { hash: string }[] }>(
      `select md5(coalesce(string_agg(t::text, E'\\n' order by t::text), '')) as hash from ?? t`,
      [name],
    );
    found[name] = all[0]!.hash;
  }
  return found;
}
async function inRestored<T>(file: string, work: (restored: Knex) => Promise<T>): Promise<T> {
  const name = nextName();
  await restoreBackup(tools(), file, name, folder);
  const restored = connect(urlOfDatabase(databaseUrl, name));
  try {
    return await work(restored);
  } finally {
    await restored.destroy();
    await database.raw('drop database ?? with (force)', [name]);
  }
}

describe('a backup', () => {
  it('brings back every row of every table, and says what it holds', async () => {
    const file = join(folder, 'whole.backup');
    const manifest = await writeBackup(tools(), file, 'test');
    expect(await readManifest(file)).toEqual(manifest);
    expect(manifest.rows['figure']).toBeGreaterThan(5);
    const before = await hashes(database);
    expect(Object.keys(before).length).toBeGreaterThan(50);
    await inRestored(file, async (restored) => expect(await hashes(restored)).toEqual(before));
  });

  it('killed in the middle leaves nothing that looks like one', async () => {
    const file = join(folder, 'killed.backup');
    const { pathname } = new URL('../../dist/upkeep/backup-file.js', `file://${__filename}`);
    const started = () => {
      const child = spawn(process.execPath, [
        '--input-type=module',
        '-e',
        `import { writeBackup } from '${pathname}';
         await writeBackup({ databaseUrl: '${databaseUrl}', bin: '${BIN}' }, '${file}', 'test');`,
      ]);
      return { child, ended: new Promise<number | null>((resolve) => child.once('exit', resolve)) };
    };
    // Left alone it makes one, so the kills below do meet it at work.
    expect(await started().ended).toBe(0);
    await expect(readManifest(file)).resolves.toBeDefined();
    rmSync(file);
    for (const afterMs of [150, 400, 600, 800]) {
      const { child, ended } = started();
      await new Promise((resolve) => setTimeout(resolve, afterMs));
      child.kill('SIGKILL');
      await ended;
      // Whole, or not there.
      if (existsSync(file)) await expect(readManifest(file)).resolves.toBeDefined();
    }
    await expect(writeBackup(tools(), file, 'test')).resolves.toBeDefined();
  });

  it('that was changed, cut off, is of another kind or of a later version is refused, and leaves nothing', async () => {
    const file = join(folder, 'good.backup');
    await writeBackup(tools(), file, 'test');
    const bytes = readFileSync(file);
    const refusedAs = async (content: Buffer | string, words: RegExp): Promise<void> => {
      const bad = join(folder, 'bad.backup');
      writeFileSync(bad, content);
      const name = nextName();
      await expect(restoreBackup(tools(), bad, name, folder)).rejects.toThrow(words);
      const { rows } = await database.raw<{ rows: object[] }>('select from pg_database where datname = ?', [name]);
      expect(rows).toEqual([]);
      expect(existsSync(join(folder, `${name}.dump`))).toBe(false);
    };
    const changed = Buffer.from(bytes);
    changed[5000] = changed[5000]! ^ 255;
    await refusedAs(changed, /damaged|unpacked/);
    await refusedAs(bytes.subarray(0, bytes.length - 300), /cut off/);
    await refusedAs('not a zip at all', /no backup of Ebrix/);
    await refusedAs(await zipOf({ 'hello.txt': 'x' }), /holds no/);
    const later: Manifest = { ...(await readManifest(file)), migrations: ['0001-first', '9999-of-tomorrow'] };
    await refusedAs(
      await zipOf({ 'ebrix.dump': 'x', 'manifest.json': JSON.stringify(later) }),
      /later version.*9999-of-tomorrow/,
    );
  });

  it('takes no name that is taken', async () => {
    const file = join(folder, 'good.backup');
    const { pathname } = new URL(databaseUrl);
    await expect(restoreBackup(tools(), file, pathname.slice(1), folder)).rejects.toThrow(/already/);
    await server.api.get('/api/runs').expect(200);
  });

  it('takes the place of what is there, which is kept beside it', async () => {
    const [now, by, aside] = [nextName(), nextName(), nextName()];
    for (const name of [now, by]) await database.raw('create database ??', [name]);
    expect(await switchDatabases(databaseUrl, now, by, aside)).toBe(true);
    const { rows } = await database.raw<{ rows: { datname: string }[] }>(
      'select datname from pg_database where datname = any(?)',
      [[now, by, aside]],
    );
    expect(rows.map(({ datname }) => datname).sort()).toEqual([now, aside].sort());
    for (const name of [now, aside]) await database.raw('drop database ??', [name]);
  });
});

describe('the server’s own backups', () => {
  let backups: string;
  let service: BackupService;
  let at = new Date('2026-05-01T08:00:00Z');
  beforeAll(() => {
    backups = mkdtempSync(join(folder, 'own-'));
    const config: Config = { ...server.app.get<Config>(CONFIG), EBRIX_BACKUPS: backups, EBRIX_PG_BIN: BIN };
    service = new BackupService(
      config,
      database,
      { now: () => at },
      new TrashRepository(database),
      new RetentionRepository(database),
    );
  });

  it('are made when one is due, tried by a restore, and listed with what came of it', async () => {
    at = new Date();
    // A server that was killed left this; it goes, whatever its age.
    const half = join(backups, 'ebrix-2026-01-01-000000.backup.part');
    writeFileSync(half, 'half');
    await service.keepUp();
    await service.keepUp();
    expect(existsSync(half)).toBe(false);
    const { backups: listed, problem } = await service.list();
    expect(problem).toBeNull();
    expect(listed).toHaveLength(1);
    expect(listed[0]).toMatchObject({ reason: 'daily', verified: { isGood: true } });
  });
  it('are read from end to end where the database’s user may not make another', async () => {
    const role = `few_rights_${process.pid}`;
    await database.raw(`create role ?? login password 'few' nocreatedb`, [role]);
    const url = Object.assign(new URL(databaseUrl), { username: role, password: 'few' });
    const limited = connect(url.href);
    try {
      const config: Config = { ...server.app.get<Config>(CONFIG), EBRIX_BACKUPS: backups, EBRIX_PG_BIN: BIN };
      const other = new BackupService(
        config,
        limited,
        { now: () => at },
        new TrashRepository(limited),
        new RetentionRepository(limited),
      );
      await other.verifyNewest();
      const verified = (await other.list()).backups[0]!.verified!;
      expect(verified).toMatchObject({ isGood: true, message: expect.stringMatching(/not restored/) as string });
    } finally {
      await limited.destroy();
      await database.raw('drop role ??', [role]);
    }
  });
  it('that do not restore are said to be bad', async () => {
    const [{ name }] = (await service.list()).backups as [Backup];
    const file = join(backups, name);
    const bytes = readFileSync(file);
    bytes[4000] = bytes[4000]! ^ 255;
    writeFileSync(file, bytes);
    await expect(service.verifyNewest()).rejects.toThrow(/does not restore/);
    expect((await service.list()).backups[0]!.verified).toMatchObject({ isGood: false });
    await expect(readThrough({ bin: BIN }, file, folder)).rejects.toThrow(/damaged|unpacked|could not be read/);
  });
  it('are none where the server was given no place for them, and it says so', async () => {
    const { body } = await server.api.get('/api/upkeep/backups').expect(200);
    expect(body as BackupList).toEqual({ folder: null, backups: [], problem: null });
    await server.api.post('/api/upkeep/backups').expect(409);
    await server.api.get('/api/upkeep/backups/ebrix-2026-05-01-080000.backup').expect(404);
    await server.api.get('/api/upkeep/backups/..%2F..%2Fetc%2Fpasswd').expect(400);
  });
});

describe('bringing tables to a new version', () => {
  it('changes nothing when a step fails, and takes a dump first', async () => {
    const name = nextName();
    await database.raw('create database ??', [name]);
    const old = connect(urlOfDatabase(databaseUrl, name));
    const dumps: string[] = [];
    const dump = (first: string): Promise<string> => Promise.resolve(`kept/${dumps.push(first)}`);
    try {
      await migrateWithCare(old, dump);
      expect(dumps).toEqual([]);
      const before = await hashes(old);
      const source = new MigrationSource();
      const next = [
        { name: '9001-good', up: (knex: Knex) => knex.schema.createTable('half', (table) => void table.integer('n')) },
        { name: '9002-bad', up: (knex: Knex) => knex.raw('select of nothing') },
      ];
      const withNext: Knex.MigrationSource<(typeof next)[number]> = {
        getMigrations: async () => [...((await source.getMigrations()) as unknown as typeof next), ...next],
        getMigrationName: (migration) => migration.name,
        getMigration: (migration) =>
          Promise.resolve({ up: migration.up as (knex: Knex) => Promise<void>, down: () => Promise.resolve() }),
      };
      const newer = connect(urlOfDatabase(databaseUrl, name), withNext as never);
      await expect(migrateWithCare(newer, dump)).rejects.toThrow(/9001-good.*\n?.*Nothing was changed[^]*kept\/1/);
      await newer.destroy();
      expect(dumps).toEqual(['9001-good']);
      expect(await hashes(old)).toEqual(before);
      // The version before goes on.
      await migrateWithCare(old, dump);
    } finally {
      await old.destroy();
      await database.raw('drop database ?? with (force)', [name]);
    }
  });
});

async function zipOf(files: Readonly<Record<string, string>>): Promise<Buffer> {
  const zip = new ZipFile();
  for (const [name, text] of Object.entries(files)) zip.addBuffer(Buffer.from(text), name);
  zip.end();
  const path = join(folder, 'made.zip');
  await pipeline(zip.outputStream as Readable, createWriteStream(path));
  return readFileSync(path);
}

it('has the programs it needs', () => {
  expect(execFileSync(`${BIN}/pg_restore`, ['--version'], { encoding: 'utf8' })).toMatch(/PostgreSQL/);
});
