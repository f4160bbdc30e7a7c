import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import PgBoss from 'pg-boss';
import { CONFIG, type Config } from '../common/config.js';

export const QUEUES = { readImport: 'read-import', analyseRun: 'analyse-run', reanalyse: 'reanalyse' } as const;
export type QueueName = (typeof QUEUES)[keyof typeof QUEUES];

/** Jobs in the same PostgreSQL: any number of processes may take them. */
@Injectable()
export class Boss implements OnApplicationShutdown {
  private readonly logger = new Logger('jobs');
  private started: Promise<PgBoss> | undefined;

  constructor(@Inject(CONFIG) private readonly config: Config) {}

  async send(queue: QueueName, data: { id: string }): Promise<void> {
    await (await this.start()).send(queue, data, { retryLimit: 2, expireInSeconds: 300 });
  }

  async work(queue: QueueName, parallel: number, handle: (id: string) => Promise<void>): Promise<void> {
    const boss = await this.start();
    for (let k = 0; k < parallel; k++)
      await boss.work<{ id: string }>(queue, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async (jobs) => {
        for (const job of jobs) await handle(job.data.id);
      });
  }

  private start(): Promise<PgBoss> {
    this.started ??= (async () => {
      const boss = new PgBoss({ connectionString: this.config.DATABASE_URL, max: 4, application_name: 'ebrix-jobs' });
      boss.on('error', (error) => this.logger.warn(error.message));
      await boss.start();
      for (const queue of Object.values(QUEUES)) await boss.createQueue(queue);
      return boss;
    })();
    return this.started;
  }

  async onApplicationShutdown(): Promise<void> {
    if (this.started) await (await this.started).stop({ graceful: true, timeout: 5000, wait: true });
  }
}
