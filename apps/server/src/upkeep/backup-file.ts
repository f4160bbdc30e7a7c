import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdtemp, open, rename, rm } from 'node:fs/promises';
import { createHash } from 'node:crypto';
import { pipeline } from 'node:stream/promises';
import type { Knex } from 'knex';
import { openPromise, type Entry, type ZipFile } from 'yauzl';
import { z } from 'zod';
import { VERSION } from '../common/config.js';
import { PackageWriter } from '../data-package/package-writer.js';
import { connect, urlOfDatabase } from '../database/connect.js';
import { MIGRATION_CHECKSUMS } from '../database/migrations/checksums.js';

const DUMP = 'ebrix.dump';
const MANIFEST = 'manifest.json';
const MANIFEST_BYTES = 1024 * 1024;
/** A session that was signed out must not come back, nor a code or a count of tries. */
const WITHOUT_ROWS: readonly string[] = ['sign_in_session', 'sign_in_code', 'sign_in_try'];
/** The queue makes its own anew. */
const LEFT_OUT = ['--exclude-schema=pgboss', ...WITHOUT_ROWS.map((table) => `--exclude-table-data=${table}`)];

const manifestSchema = z.object({
  format: z.literal('ebrix-backup'),
  formatVersion: z.literal(1),
  version: z.string(),
  madeAt: z.iso.datetime(),
  reason: z.string(),
  migrations: z.array(z.string()),
  /** Rows of each table at the moment of the dump. */
  rows: z.record(z.string(), z.int()),
  dump: z.object({ bytes: z.int(), sha256: z.string() }),
});
export type Manifest = z.output<typeof manifestSchema>;

/** What is wrong with a backup or its making, as the person in front should read it. */
export class BackupProblem extends Error {}

interface Tools {
  readonly databaseUrl: string;
  /** Folder of PostgreSQL's programs. */
  readonly bin: string;
}

/**
 * Writes everything into one file: the database's own dump, and beside it what it holds, counted in the same snapshot. The file
 * appears under its name only when it is whole and on the disk.
 */
export async function writeBackup({ databaseUrl, bin }: Tools, file: string, reason: string): Promise<Manifest> {
  const database = connect(databaseUrl);
  const part = `${file}.part`;
  try {
    return await database.transaction(
      async (transaction) => {
        const { rows: snapshots } = await transaction.raw<{ rows: { id: string }[] }>(
          'select pg_export_snapshot() as id',
        );
        const rows = await countRows(transaction);
        const migrations = (await transaction('knex_migrations').orderBy('id').pluck('name')) as string[];
        const writer = new PackageWriter();
        writer.add(DUMP, () => dumpOf({ databaseUrl, bin }, snapshots[0]!.id), true);
        let manifest: Manifest | undefined;
        writer.add(MANIFEST, async function* () {
          const { bytes, sha256 } = writer.written.find(({ path }) => path === DUMP)!;
          manifest = {
            format: 'ebrix-backup',
            formatVersion: 1,
            version: VERSION,
            madeAt: new Date().toISOString(),
            reason,
            migrations,
            rows,
            dump: { bytes, sha256 },
          };
          yield await Promise.resolve(JSON.stringify(manifest, null, 1));
        });
        await writer.writeTo(createWriteStream(part, { mode: 0o600 }));
        await toDisk(part);
        await rename(part, file);
        return manifest!;
      },
      { isolationLevel: 'repeatable read', readOnly: true },
    );
  } catch (error) {
    throw fullDisk(error) ?? error;
  } finally {
    await rm(part, { force: true });
    await database.destroy();
  }
}

function fullDisk(error: unknown): BackupProblem | undefined {
  return (error as { code?: unknown } | undefined)?.code === 'ENOSPC'
    ? new BackupProblem('The disk is full: no backup was made. Free some room, or name a folder on another disk.')
    : undefined;
}

async function toDisk(file: string): Promise<void> {
  const handle = await open(file, 'r+');
  await handle.sync();
  await handle.close();
}

/** The address without its password, which goes by the environment: arguments are seen by every user of the machine. */
function addressed(databaseUrl: string): { dbname: string; env: NodeJS.ProcessEnv } {
  const url = new URL(databaseUrl);
  const password = decodeURIComponent(url.password);
  url.password = '';
  return { dbname: url.href, env: { ...process.env, ...(password !== '' && { PGPASSWORD: password }) } };
}

async function* dumpOf({ databaseUrl, bin }: Tools, snapshot: string): AsyncGenerator<Buffer> {
  const { dbname, env } = addressed(databaseUrl);
  const child = spawn(
    `${bin}/pg_dump`,
    ['--format=custom', '--no-owner', '--no-privileges', `--snapshot=${snapshot}`, ...LEFT_OUT, '--dbname', dbname],
    { stdio: ['ignore', 'pipe', 'pipe'], env },
  );
  const said = textOf(child.stderr);
  const ended = once(child, 'close');
  try {
    for await (const chunk of child.stdout) yield chunk as Buffer;
    const [code] = (await ended) as [number | null];
    if (code !== 0) throw new BackupProblem(`The database could not be dumped: ${lastLine(said())}`);
  } finally {
    if (child.exitCode === null) child.kill();
  }
}

function textOf(stream: NodeJS.ReadableStream): () => string {
  let text = '';
  stream.on('data', (chunk: Buffer) => {
    if (text.length < 20_000) text += chunk.toString();
  });
  return () => text;
}
const lastLine = (text: string): string => text.trim().split('\n').slice(-2).join(' ').slice(0, 400);

/** Rows of every table of the public schema but those whose rows are left out. */
export async function countRows(database: Knex): Promise<Record<string, number>> {
  const { rows } = await database.raw<{ rows: { name: string }[] }>(
    `select relname as name from pg_class where relnamespace = 'public'::regnamespace and relkind = 'r' order by 1`,
  );
  const counts: Record<string, number> = {};
  for (const { name } of rows) {
    if (WITHOUT_ROWS.includes(name)) continue;
    const [row] = await database(name).count<{ count: string }[]>();
    counts[name] = Number(row!.count);
  }
  return counts;
}

/** What a backup says of itself. Fails: `BackupProblem`. */
export async function readManifest(file: string): Promise<Manifest> {
  const zip = await openZip(file);
  try {
    const { manifest } = await entriesOf(zip, file);
    return manifest;
  } finally {
    zip.close();
  }
}

async function openZip(file: string): Promise<ZipFile> {
  return openPromise(file, { lazyEntries: true, autoClose: false }).catch((error: unknown) => {
    throw new BackupProblem(
      (error as { code?: unknown }).code === 'ENOENT'
        ? `There is no file ${file}.`
        : `${file} is no backup of Ebrix, or it is cut off.`,
    );
  });
}

async function entriesOf(zip: ZipFile, file: string): Promise<{ manifest: Manifest; dump: Entry }> {
  const found = new Map<string, Entry>();
  try {
    for await (const entry of zip.eachEntry()) found.set(entry.fileName, entry);
  } catch {
    throw new BackupProblem(`${file} is damaged.`);
  }
  const [dump, entry] = [found.get(DUMP), found.get(MANIFEST)];
  if (!dump || !entry || entry.uncompressedSize > MANIFEST_BYTES)
    throw new BackupProblem(`${file} is no backup of Ebrix: it holds no ${dump ? MANIFEST : DUMP}.`);
  const chunks: Buffer[] = [];
  for await (const chunk of await zip.openReadStreamPromise(entry)) chunks.push(chunk as Buffer);
  let value: unknown;
  try {
    value = JSON.parse(Buffer.concat(chunks).toString('utf8'));
  } catch {
    throw new BackupProblem(`${file} is damaged: its ${MANIFEST} cannot be read.`);
  }
  const parsed = manifestSchema.safeParse(value);
  if (!parsed.success) throw new BackupProblem(`${file} was made in a form that this version of Ebrix does not know.`);
  return { manifest: parsed.data, dump };
}

/**
 * Reads a backup from end to end, without a database to put it in: that its dump is the one that was written, and that every row in it
 * unpacks. Fails: `BackupProblem`.
 */
export async function readThrough({ bin }: Pick<Tools, 'bin'>, file: string, scratchFolder: string): Promise<void> {
  const zip = await openZip(file);
  const folder = await mkdtemp(`${scratchFolder}/ebrix-read-`);
  const extracted = `${folder}/${DUMP}`;
  try {
    const { manifest, dump } = await entriesOf(zip, file);
    await extract(zip, dump, extracted);
    if ((await hashOf(extracted)) !== manifest.dump.sha256)
      throw new BackupProblem(`${file} is damaged: its dump is not the one that was written.`);
    await run(`${bin}/pg_restore`, ['--file=/dev/null', extracted], process.env, 'The backup could not be read');
  } catch (error) {
    throw fullDisk(error) ?? error;
  } finally {
    zip.close();
    await rm(folder, { recursive: true, force: true });
  }
}

/**
 * Restores a backup into a database that is made for it, and holds what came against what the backup says. Fails with
 * `BackupProblem`, the new database gone again: nothing that was there before is touched.
 */
export async function restoreBackup(
  { databaseUrl, bin }: Tools,
  file: string,
  name: string,
  scratchFolder: string,
): Promise<Manifest> {
  const zip = await openZip(file);
  const extracted = `${scratchFolder}/${name}.dump`;
  const target = urlOfDatabase(databaseUrl, name);
  const admin = connect(databaseUrl);
  try {
    const { manifest, dump } = await entriesOf(zip, file);
    const unknown = manifest.migrations.find((migration) => MIGRATION_CHECKSUMS[migration] === undefined);
    if (unknown !== undefined)
      throw new BackupProblem(
        `${file} was made by a later version of Ebrix (${manifest.version}, ${unknown}). Restore it with that version.`,
      );
    await extract(zip, dump, extracted);
    if ((await hashOf(extracted)) !== manifest.dump.sha256)
      throw new BackupProblem(`${file} is damaged: its dump is not the one that was written. Nothing was changed.`);
    const { rows } = await admin.raw<{ rows: object[] }>('select from pg_database where datname = ?', [name]);
    if (rows.length > 0) throw new BackupProblem(`There is a database "${name}" already. Choose another name.`);
    await admin.raw('create database ??', [name]);
    try {
      await runRestore(bin, target, extracted);
      await requireSame(target, manifest);
    } catch (error) {
      await admin.raw('drop database if exists ?? with (force)', [name]);
      throw error;
    }
    return manifest;
  } catch (error) {
    throw fullDisk(error) ?? error;
  } finally {
    zip.close();
    await rm(extracted, { force: true });
    await admin.destroy();
  }
}

async function extract(zip: ZipFile, entry: Entry, file: string): Promise<void> {
  try {
    await pipeline(await zip.openReadStreamPromise(entry), createWriteStream(file, { mode: 0o600 }));
  } catch (error) {
    throw (
      fullDisk(error) ?? new BackupProblem('The backup is damaged: its dump cannot be unpacked. Nothing was changed.')
    );
  }
}

async function hashOf(file: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(file), hash);
  return hash.digest('hex');
}

async function runRestore(bin: string, url: string, file: string): Promise<void> {
  const { dbname, env } = addressed(url);
  const options = ['--no-owner', '--no-privileges', '--exit-on-error', '--single-transaction', '--dbname', dbname];
  await run(`${bin}/pg_restore`, [...options, file], env, 'The backup could not be restored');
}

async function run(
  program: string,
  options: readonly string[],
  env: NodeJS.ProcessEnv,
  problem: string,
): Promise<void> {
  const child = spawn(program, options, { stdio: ['ignore', 'ignore', 'pipe'], env });
  const said = textOf(child.stderr);
  const [code] = (await once(child, 'close')) as [number | null];
  if (code !== 0) throw new BackupProblem(`${problem}: ${lastLine(said())}`);
}

async function requireSame(url: string, { rows }: Manifest): Promise<void> {
  const database = connect(url);
  try {
    const counted = await countRows(database);
    const differing = Object.keys({ ...rows, ...counted }).filter((table) => rows[table] !== counted[table]);
    if (differing.length > 0)
      throw new BackupProblem(
        `What came out of the backup is not what went in: ${differing.map((table) => `${table} ${counted[table] ?? 'missing'} of ${rows[table] ?? 0}`).join(', ')}.`,
      );
  } finally {
    await database.destroy();
  }
}
