import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import pg from 'pg';
import { filter, map, Subject, type Observable } from 'rxjs';
import { CONFIG, type Config } from '../common/config.js';

/** Names of the PostgreSQL notifications that carry the id of what changed. */
export const NOTICES = { import: 'ebrix_import', ride: 'ebrix_ride' } as const;
export type Notice = (typeof NOTICES)[keyof typeof NOTICES];

const RECONNECT_MS = 2000;

/** Ids of what changed, whichever process changed it. */
@Injectable()
export class Notices implements OnApplicationShutdown {
  private readonly logger = new Logger('notices');
  private readonly changes = new Subject<{ notice: string; id: string }>();
  private client: pg.Client | undefined;
  private isStopping = false;

  constructor(@Inject(CONFIG) private readonly config: Config) {}

  async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.config.DATABASE_URL, application_name: 'ebrix-notices' });
    this.client = client;
    client.on('notification', ({ channel, payload }) => payload && this.changes.next({ notice: channel, id: payload }));
    client.on('error', (error) => this.logger.warn(error.message));
    client.on('end', () => this.reconnect());
    try {
      await client.connect();
      for (const notice of Object.values(NOTICES)) await client.query(`listen ${notice}`);
    } catch (error) {
      this.logger.warn((error as Error).message);
      client.removeAllListeners('end');
      this.reconnect();
    }
  }

  stream(notice: Notice): Observable<string> {
    return this.changes.pipe(
      filter((change) => change.notice === notice),
      map(({ id }) => id),
    );
  }

  private reconnect(): void {
    if (!this.isStopping) setTimeout(() => void this.listen(), RECONNECT_MS).unref();
  }

  async onApplicationShutdown(): Promise<void> {
    this.isStopping = true;
    this.changes.complete();
    await this.client?.end().catch(() => undefined);
  }
}
