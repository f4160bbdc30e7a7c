import { mkdirSync } from 'node:fs';
import { readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { Knex } from 'knex';
import { backupNameSchema, type Backup, type BackupList } from '@ebrix/contract';
import { Clock } from '../common/clock.js';
import { CONFIG, type Config } from '../common/config.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';
import { RetentionRepository } from './retention.repository.js';
import { TrashRepository } from './trash.repository.js';
import { BackupProblem, readManifest, readThrough, restoreBackup, writeBackup } from './backup-file.js';

const DAY_MS = 86_400_000;
const LOOK_EVERY_MS = 600_000;
const KEPT_DAYS = 14;
/** However old they are. */
const KEPT_AT_LEAST = 3;
const VERIFIED_EVERY_DAYS = 7;
const VERIFIED = 'verified.json';
const HALF_MADE = '.backup.part';
/** Only one process at a time makes or tries a backup. */
const LOCK = 4_180_001;

interface Verified {
  readonly name: string;
  readonly at: string;
  readonly isGood: boolean;
  readonly message: string;
}

/** What is kept up by itself. Backups: one a day, kept for two weeks, and once a week one is restored into a throw-away database to see that it is good. */
@Injectable()
export class BackupService implements OnApplicationShutdown {
  private readonly logger = new Logger('backups');
  private timer: NodeJS.Timeout | undefined;
  private problem: string | null = null;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    @Inject(KNEX) private readonly database: Knex,
    private readonly clock: Clock,
    private readonly trash: TrashRepository,
    private readonly retention: RetentionRepository,
  ) {}

  /** Looks now and then whether a backup is due; only the server does, not every worker. */
  start(): void {
    this.timer = setInterval(() => void this.keepUp(), LOOK_EVERY_MS).unref();
    void this.keepUp();
  }

  onApplicationShutdown(): void {
    clearInterval(this.timer);
  }

  async list(): Promise<BackupList> {
    const place = this.place();
    if (!place) return { folder: null, backups: [], problem: this.problem };
    const verified = await this.verified(place.folder);
    const backups = await Promise.all(
      (await this.names(place.folder)).map(async (name): Promise<Backup | undefined> => {
        const file = join(place.folder, name);
        const [manifest, { size }] = await Promise.all([readManifest(file).catch(() => undefined), stat(file)]);
        return {
          name,
          bytes: size,
          madeAt: manifest?.madeAt ?? null,
          reason: manifest?.reason ?? null,
          verified: verified.find((one) => one.name === name) ?? null,
        };
      }),
    );
    return { folder: place.folder, backups: backups.filter((one) => one !== undefined), problem: this.problem };
  }

  /** Fails: `wrong-state` where this server has no folder or no programs for it, `busy` while another is being made. */
  async make(reason: string): Promise<Backup> {
    const place = this.place();
    if (!place)
      throw new DomainError(
        'wrong-state',
        'This server was not told where backups go (EBRIX_BACKUPS) or where PostgreSQL’s programs are (EBRIX_PG_BIN). npm start does both.',
      );
    const name = this.nextName();
    const isDone = await this.alone(() => writeBackup(place.tools, join(place.folder, name), reason).then(() => true));
    if (isDone === undefined) throw new DomainError('busy', 'A backup is being made just now. Try again in a moment.');
    this.problem = null;
    const made = (await this.list()).backups.find((one) => one.name === name);
    return made!;
  }

  fileOf(name: string): string {
    const place = this.place();
    if (!place) throw notFound('This backup');
    return join(place.folder, name);
  }

  /** What is due: a backup a day, old ones gone, one tried a week. */
  async keepUp(): Promise<void> {
    const place = this.place();
    try {
      await this.trash.dropOld();
      await this.letGo();
      if (!place) return;
      await this.alone(() => clearLeavings(place.folder));
      const now = this.clock.now().getTime();
      const names = await this.names(place.folder);
      const newest = names[0] === undefined ? undefined : (await stat(join(place.folder, names[0]))).mtimeMs;
      if (newest === undefined || now - newest >= DAY_MS) {
        await this.make('daily');
        await this.prune(place.folder, now);
      }
      const lastTried = (await this.verified(place.folder))[0]?.at;
      if (lastTried === undefined || now - Date.parse(lastTried) >= VERIFIED_EVERY_DAYS * DAY_MS)
        await this.verifyNewest();
      this.problem = null;
    } catch (error) {
      if (error instanceof DomainError && error.code === 'busy') return;
      this.problem =
        error instanceof BackupProblem ? error.message : 'The last backup failed; the server log says more.';
      this.logger.error(error instanceof Error ? error.message : String(error));
    }
  }

  /** What was left lying for longer than it is kept: some at a time, until nothing is. */
  private async letGo(): Promise<void> {
    for (;;) {
      const { files, sessions } = await this.retention.sweep(this.clock.now());
      if (files + sessions === 0) return;
      this.logger.log(
        `let go of ${files} files that were never taken up and ${sessions} sessions of loggers without a ride`,
      );
    }
  }

  /** Restores the newest into a database of its own, counts, and drops it; where this user may not make one, reads it from end to end. */
  async verifyNewest(): Promise<void> {
    const place = this.place();
    const name = place && (await this.names(place.folder))[0];
    if (!place || name === undefined) return;
    const scratch = `verify_${this.clock.now().getTime()}`;
    let found = { isGood: true, message: 'restored and counted' };
    const isDone = await this.alone(async () => {
      try {
        if (await this.mayMakeDatabases()) {
          await restoreBackup(place.tools, join(place.folder, name), scratch, tmpdir());
          await this.database.raw('drop database ?? with (force)', [scratch]);
        } else {
          await readThrough(place.tools, join(place.folder, name), tmpdir());
          found.message =
            'read from end to end, not restored: the database’s user may not make a database to try it in';
        }
      } catch (error) {
        if (!(error instanceof BackupProblem)) throw error;
        found = { isGood: false, message: error.message };
      }
      return true;
    });
    if (!isDone) return;
    const others = (await this.verified(place.folder)).filter((one) => one.name !== name);
    const entry: Verified = { name, at: this.clock.now().toISOString(), ...found };
    await writeFile(join(place.folder, VERIFIED), JSON.stringify([entry, ...others].slice(0, 30), null, 1));
    if (!found.isGood) throw new BackupProblem(`The backup ${name} does not restore: ${found.message}`);
  }

  private async mayMakeDatabases(): Promise<boolean> {
    const { rows } = await this.database.raw<{ rows: { may: boolean }[] }>(
      'select rolcreatedb or rolsuper as may from pg_roles where rolname = current_user',
    );
    return rows[0]?.may ?? false;
  }

  private async prune(folder: string, now: number): Promise<void> {
    for (const name of (await this.names(folder)).slice(KEPT_AT_LEAST)) {
      const { mtimeMs } = await stat(join(folder, name));
      if (now - mtimeMs > KEPT_DAYS * DAY_MS) await rm(join(folder, name), { force: true });
    }
  }

  /** Newest first: names carry the moment. Halves of files that a kill left are taken away. */
  private async names(folder: string): Promise<string[]> {
    const all = await readdir(folder);
    return all
      .filter((name) => backupNameSchema.safeParse(name).success)
      .sort()
      .reverse();
  }

  private async verified(folder: string): Promise<Verified[]> {
    try {
      return JSON.parse(await readFile(join(folder, VERIFIED), 'utf8')) as Verified[];
    } catch {
      return [];
    }
  }

  private nextName(): string {
    return `ebrix-${this.clock.now().toISOString().slice(0, 19).replaceAll(':', '').replace('T', '-')}.backup`;
  }

  private place(): { folder: string; tools: { databaseUrl: string; bin: string } } | undefined {
    const { EBRIX_BACKUPS: folder, EBRIX_PG_BIN: bin, DATABASE_URL: databaseUrl } = this.config;
    if (folder === undefined || bin === undefined) return undefined;
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    return { folder, tools: { databaseUrl, bin } };
  }

  /** Undefined where another process is at it. */
  private async alone<T>(work: () => Promise<T>): Promise<T | undefined> {
    return this.database.transaction(async (transaction) => {
      const { rows } = await transaction.raw<{ rows: { got: boolean }[] }>(
        'select pg_try_advisory_xact_lock(?) as got',
        [LOCK],
      );
      return rows[0]!.got ? work() : undefined;
    });
  }
}

/** What a server that was killed had half made. Only while no backup is being made. */
async function clearLeavings(folder: string): Promise<void> {
  const left = (await readdir(folder).catch(() => [])).filter((name) => name.endsWith(HALF_MADE));
  for (const name of left) await rm(join(folder, name), { force: true });
}
