import { createWriteStream } from 'node:fs';
import { mkdir, mkdtemp, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Inject, Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import pLimit from 'p-limit';
import { v7 as uuidv7 } from 'uuid';
import { z } from 'zod';
import { packageOrderSchema, type PackageOrder, type PreparedPackage } from '@ebrix/contract';
import { Clock } from '../common/clock.js';
import { CONFIG, type Config } from '../common/config.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { ExportService } from './export.service.js';
import type { PackageWriter } from './package-writer.js';

const KEPT_MS = 86_400_000;
const LOOK_EVERY_MS = 600_000;
/** Made or waiting; the oldest that is ready gives way to a new one. */
const KEPT_AT_MOST = 6;

/** What lies beside a package on the disk: by it, what was under way is begun again after the server ended. */
const noteSchema = z.strictObject({
  id: z.uuid(),
  order: packageOrderSchema,
  at: z.iso.datetime(),
  keptUntil: z.iso.datetime().nullable(),
  problem: z.string().nullable(),
});
type Note = z.output<typeof noteSchema>;
interface Making {
  readonly note: Note;
  state: PreparedPackage['state'];
  writer?: Pick<PackageWriter, 'plannedCount' | 'written'>;
  bytes: number;
  readonly stop: AbortController;
}

/** Data packages made on the server's disk, one at a time: followed, stopped, begun again after a kill, and downloaded in pieces. */
@Injectable()
export class PreparedPackagesService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly logger = new Logger('data package');
  private readonly packages = new Map<string, Making>();
  private readonly oneAtATime = pLimit(1);
  private folder = '';
  private isOfOwn = false;
  private ownFolder: Promise<string> | undefined;
  private isStopping = false;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly exports: ExportService,
    private readonly clock: Clock,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const { EBRIX_PACKAGES: told } = this.config;
    this.isOfOwn = told === undefined;
    if (told !== undefined) {
      this.folder = told;
      await mkdir(told, { recursive: true, mode: 0o700 });
      await this.takeUp();
    }
    this.timer = setInterval(() => void this.dropOld(), LOOK_EVERY_MS).unref();
  }

  async onApplicationShutdown(): Promise<void> {
    this.isStopping = true;
    clearInterval(this.timer);
    for (const { stop } of this.packages.values()) stop.abort();
    // Waits until the one under way has let go of its file.
    await this.oneAtATime(() => undefined);
    if (this.isOfOwn && this.folder !== '') await rm(this.folder, { recursive: true, force: true });
  }

  /** Newest first. */
  list(): PreparedPackage[] {
    return [...this.packages.values()].map(toDto).reverse();
  }

  /** Fails: `not-found` for a trial or run that is not there; `busy` where too many are waiting already. */
  async order(order: PackageOrder): Promise<PreparedPackage> {
    await this.exports.prepare(optionsOf(order));
    await this.dropOld();
    if (this.packages.size >= KEPT_AT_MOST) {
      const ready = [...this.packages.values()].find(({ state }) => state === 'ready' || state === 'failed');
      if (!ready)
        throw new DomainError('busy', `${KEPT_AT_MOST} data packages are being made already. Stop one, or wait.`);
      await this.drop(ready.note.id);
    }
    // Made when it is first needed: most processes never make a package.
    if (this.isOfOwn) this.folder = await (this.ownFolder ??= mkdtemp(join(tmpdir(), 'ebrix-packages-')));
    const at = this.clock.now().toISOString();
    const note: Note = { id: uuidv7(), order: copyOf(order), at, keptUntil: null, problem: null };
    await this.keep(note);
    return toDto(this.begin(note));
  }

  /** The file of one that is ready. Fails: `not-found`. */
  fileOf(id: string): string {
    if (this.packages.get(id)?.state !== 'ready') throw notFound('This data package');
    return this.path(id, 'zip');
  }

  /** Fails: `not-found`. */
  async drop(id: string): Promise<void> {
    const found = this.packages.get(id);
    if (!found) throw notFound('This data package');
    this.packages.delete(id);
    found.stop.abort();
    for (const ending of ['zip', 'part', 'json'] as const) await rm(this.path(id, ending), { force: true });
  }

  private begin(note: Note): Making {
    const making: Making = { note, state: 'waiting', bytes: 0, stop: new AbortController() };
    this.packages.set(note.id, making);
    void this.oneAtATime(() => this.make(making));
    return making;
  }

  private async make(making: Making): Promise<void> {
    const { id, order } = making.note;
    const { signal } = making.stop;
    if (signal.aborted) return;
    making.state = 'making';
    const part = this.path(id, 'part');
    try {
      const write = await this.exports.prepare(optionsOf(order));
      const output = createWriteStream(part);
      const counting = setInterval(() => (making.bytes = output.bytesWritten), 200).unref();
      try {
        await write(output, { signal, follow: (writer) => (making.writer = writer) });
      } finally {
        clearInterval(counting);
      }
      making.bytes = output.bytesWritten;
      await rename(part, this.path(id, 'zip'));
      await this.end(making, { keptUntil: new Date(this.clock.now().getTime() + KEPT_MS).toISOString() }, 'ready');
    } catch (error) {
      await rm(part, { force: true });
      // Stopped by somebody: nothing of it is left. By the end of the server: it is begun again at the next start.
      if (signal.aborted || this.isStopping) return;
      this.logger.error(error instanceof Error ? error.stack : String(error));
      await this.end(making, { problem: problemOf(error) }, 'failed').catch((failed: unknown) =>
        this.logger.error(String(failed)),
      );
    }
  }

  private async end(making: Making, how: Partial<Note>, state: Making['state']): Promise<void> {
    Object.assign(making.note, how);
    making.state = state;
    await this.keep(making.note);
    // Dropped while its last words were written.
    if (!this.packages.has(making.note.id))
      for (const ending of ['zip', 'json'] as const) await rm(this.path(making.note.id, ending), { force: true });
  }

  private async keep(note: Note): Promise<void> {
    const aside = `${this.path(note.id, 'json')}.new`;
    await writeFile(aside, JSON.stringify(note), { mode: 0o600 });
    await rename(aside, this.path(note.id, 'json'));
  }

  /** What an earlier server left here: ready ones go on being kept, unfinished ones are begun again. */
  private async takeUp(): Promise<void> {
    const names = await readdir(this.folder);
    const ids = names.filter((name) => name.endsWith('.json')).map((name) => name.slice(0, -'.json'.length));
    const unfinished: Note[] = [];
    for (const id of ids.sort()) {
      const note = noteSchema.safeParse(
        await readFile(this.path(id, 'json'), 'utf8')
          .then(JSON.parse)
          .catch(() => undefined),
      );
      if (!note.success) continue;
      const zip = await stat(this.path(id, 'zip')).catch(() => undefined);
      const making: Making = { note: note.data, state: 'failed', bytes: zip?.size ?? 0, stop: new AbortController() };
      if (note.data.keptUntil === null && note.data.problem === null) unfinished.push(note.data);
      else this.packages.set(id, { ...making, state: zip ? 'ready' : 'failed' });
    }
    const known = new Set([
      ...[...this.packages.keys()].flatMap((id) => [`${id}.json`, `${id}.zip`]),
      ...unfinished.map(({ id }) => `${id}.json`),
    ]);
    for (const name of names)
      if (/\.(zip|part|json|new)$/.test(name) && !known.has(name)) await rm(join(this.folder, name), { force: true });
    // Only now: what an earlier server left of it bears the name of what is written anew.
    for (const note of unfinished) this.begin(note);
    await this.dropOld();
  }

  private async dropOld(): Promise<void> {
    const now = this.clock.now().getTime();
    for (const { note, state } of this.packages.values())
      if (
        (state === 'ready' || state === 'failed') &&
        Date.parse(note.keptUntil ?? note.at) + (note.keptUntil ? 0 : KEPT_MS) < now
      )
        await this.drop(note.id).catch(() => undefined);
  }

  private path(id: string, ending: 'zip' | 'part' | 'json'): string {
    return join(this.folder, `${id}.${ending}`);
  }
}

function optionsOf({ trial, runs, channels }: PackageOrder): Parameters<ExportService['prepare']>[0] {
  return { ...(trial !== null && { trialId: trial }), ...(runs !== null && { runIds: runs }), channels };
}

function copyOf({ trial, runs, channels }: PackageOrder): Note['order'] {
  return { trial, runs: runs && [...runs], channels };
}

function problemOf(error: unknown): string {
  return (error as { code?: string }).code === 'ENOSPC'
    ? 'The disk of the server is full. Free some room, and make it again.'
    : 'It could not be made; the server’s log says why. Make it again.';
}

function toDto({ note, state, writer, bytes }: Making): PreparedPackage {
  return {
    id: note.id,
    order: note.order,
    at: note.at,
    state,
    filesDone: writer?.written.length ?? 0,
    filesOf: writer?.plannedCount ?? 0,
    bytes,
    keptUntil: note.keptUntil,
    problem: note.problem,
  };
}
