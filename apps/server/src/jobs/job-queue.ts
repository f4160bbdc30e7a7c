import { setTimeout as sleep } from 'node:timers/promises';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { Knex } from 'knex';
import pg from 'pg';
import PgBoss from 'pg-boss';
import { Subject } from 'rxjs';
import { CONFIG, type Config } from '../common/config.js';
import { isConnectionLost } from '../common/connection-lost.js';

export const QUEUES = { readImport: 'read-import', analyseRun: 'analyse-run', reanalyse: 'reanalyse' } as const;
export type QueueName = (typeof QUEUES)[keyof typeof QUEUES];

/** `later`: nothing is wrong with it, but not now; it comes again by itself. */
export type JobEnd = 'done' | 'later';
export type JobHandler = (id: string) => Promise<JobEnd>;

const POLL_MS = 500;
const LATER_S = 5;
const EXPIRE_S = 300;
const STOP_PATIENCE_MS = 5000;

/** Jobs in the same PostgreSQL: any number of processes may take them. */
@Injectable()
export class JobQueue implements OnApplicationShutdown {
  private readonly logger = new Logger('jobs');
  private readonly stopping = new AbortController();
  private readonly loops: Promise<void>[] = [];
  private readonly comesBack = new Subject<void>();
  private started: Promise<PgBoss> | undefined;
  private pool: pg.Pool | undefined;
  private isLost = false;

  /** The database answers again after it had gone away. */
  readonly recovered = this.comesBack.asObservable();

  constructor(@Inject(CONFIG) private readonly config: Config) {}

  /** Within `transaction`, the job exists once that is committed, and never otherwise. */
  async enqueue(
    queue: QueueName,
    id: string,
    { transaction, delayS = 0 }: { transaction?: Knex; delayS?: number } = {},
  ): Promise<void> {
    const boss = await this.start();
    await boss.send(
      queue,
      { id },
      {
        retryLimit: 5,
        retryDelay: LATER_S,
        expireInSeconds: EXPIRE_S,
        startAfter: delayS,
        ...(transaction && { db: { executeSql: (text, values) => executeWith(transaction, text, values) } }),
      },
    );
  }

  /**
   * Takes jobs until the application stops. The library's own loop leaves the promise of what it writes after a job
   * unwatched: a database that died at that moment ended the whole process. Here every write is awaited.
   */
  async work(queue: QueueName, parallel: number, handle: JobHandler): Promise<void> {
    const boss = await this.start();
    for (let k = 0; k < parallel; k++) this.loops.push(this.loop(boss, queue, handle));
  }

  private async loop(boss: PgBoss, queue: QueueName, handle: JobHandler): Promise<void> {
    const { signal } = this.stopping;
    while (!signal.aborted) {
      const job = await this.fetch(boss, queue);
      if (job) await this.take(boss, queue, job, handle);
      else await sleep(POLL_MS, undefined, { signal }).catch(() => undefined);
    }
  }

  private async fetch(boss: PgBoss, queue: QueueName): Promise<PgBoss.Job<{ id: string }> | undefined> {
    try {
      return (await boss.fetch<{ id: string }>(queue, { batchSize: 1 }))[0];
    } catch (error) {
      this.logger.warn(messageOf(error));
      return undefined;
    }
  }

  private async take(
    boss: PgBoss,
    queue: QueueName,
    job: PgBoss.Job<{ id: string }>,
    handle: JobHandler,
  ): Promise<void> {
    try {
      if ((await handle(job.data.id)) === 'later') await this.enqueue(queue, job.data.id, { delayS: LATER_S });
      await boss.complete(queue, job.id);
    } catch (error) {
      this.logger.warn(`${queue} ${job.data.id}: ${messageOf(error)}`);
      // A job that cannot even be marked as failed lapses by its time limit, and is taken again.
      await boss.fail(queue, job.id, { message: messageOf(error) }).catch((failed: unknown) => {
        this.logger.warn(messageOf(failed));
      });
    }
  }

  private start(): Promise<PgBoss> {
    this.started ??= this.connect().catch((error: unknown) => {
      this.started = undefined;
      throw error;
    });
    return this.started;
  }

  private async connect(): Promise<PgBoss> {
    const pool = new pg.Pool({
      connectionString: this.config.DATABASE_URL,
      max: 4,
      application_name: 'ebrix-jobs',
    });
    pool.on('error', (error) => this.noteLoss(error));
    this.pool = pool;
    const boss = new PgBoss({
      db: { executeSql: (text, values) => this.execute(pool, text, values) },
      // No job runs by the calendar.
      schedule: false,
    });
    boss.on('error', (error) => this.logger.warn(error.message));
    await boss.start();
    for (const queue of Object.values(QUEUES)) await boss.createQueue(queue);
    return boss;
  }

  /**
   * A job whose hand-over was cut off counts as taken, though nobody has it: once the database answers again, all that is
   * unfinished has to be enqueued again.
   */
  private async execute(pool: pg.Pool, text: string, values: unknown[]): Promise<{ rows: unknown[] }> {
    try {
      const result = await pool.query(text, values);
      if (this.isLost) {
        this.isLost = false;
        this.comesBack.next();
      }
      return result;
    } catch (error) {
      if (isConnectionLost(error)) this.noteLoss(error);
      throw error;
    }
  }

  private noteLoss(error: unknown): void {
    if (!this.isLost) this.logger.warn(`the database went away: ${messageOf(error)}`);
    this.isLost = true;
  }

  async onApplicationShutdown(): Promise<void> {
    this.stopping.abort();
    await Promise.race([Promise.all(this.loops), sleep(STOP_PATIENCE_MS, undefined, { ref: false })]);
    if (!this.started) return;
    const boss = await this.started;
    await boss.stop({ graceful: true, timeout: STOP_PATIENCE_MS, wait: true }).catch((error: unknown) => {
      this.logger.warn(messageOf(error));
    });
    await this.pool?.end();
  }
}

/** The library numbers its placeholders, the query builder does not. */
async function executeWith(transaction: Knex, text: string, values: unknown[]): Promise<{ rows: unknown[] }> {
  const bindings: unknown[] = [];
  const sql = text.replaceAll('?', '\\?').replaceAll(/\$(\d+)/g, (_, number: string) => {
    bindings.push(values[Number(number) - 1] ?? null);
    return '?';
  });
  return transaction.raw<{ rows: unknown[] }>(sql, bindings as Knex.RawBinding[]);
}

function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
