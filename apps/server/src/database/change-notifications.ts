import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import pg from 'pg';
import { filter, map, Subject, type Observable } from 'rxjs';
import { CONFIG, type Config } from '../common/config.js';

/** Names of the PostgreSQL notifications that carry the id of what changed; `live`: what loggers send, from server to server. */
export const CHANGE_CHANNELS = { import: 'ebrix_import', ride: 'ebrix_ride', live: 'ebrix_live' } as const;
export type ChangeChannel = (typeof CHANGE_CHANNELS)[keyof typeof CHANGE_CHANNELS];

const RECONNECT_MS = 2000;

/** Ids of what changed, whichever process changed it. */
@Injectable()
export class ChangeNotifications implements OnApplicationShutdown {
  private readonly logger = new Logger('notifications');
  private readonly changes = new Subject<{ channel: string; id: string }>();
  private client: pg.Client | undefined;
  private isStopping = false;

  constructor(@Inject(CONFIG) private readonly config: Config) {}

  async listen(): Promise<void> {
    const client = new pg.Client({
      connectionString: this.config.DATABASE_URL,
      application_name: 'ebrix-notifications',
    });
    this.client = client;
    client.on(
      'notification',
      ({ channel, payload }) => payload && this.changes.next({ channel: channel, id: payload }),
    );
    client.on('error', (error) => this.logger.warn(error.message));
    client.on('end', () => this.reconnect());
    try {
      await client.connect();
      for (const channel of Object.values(CHANGE_CHANNELS)) await client.query(`listen ${channel}`);
    } catch (error) {
      this.logger.warn((error as Error).message);
      client.removeAllListeners('end');
      this.reconnect();
    }
  }

  stream(channel: ChangeChannel): Observable<string> {
    return this.changes.pipe(
      filter((change) => change.channel === channel),
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
