import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import pg from 'pg';
import { Observable, Subject } from 'rxjs';
import { CONFIG, type Config } from '../common/config.js';
import { IMPORT_NOTICE } from './import.repository.js';

const RECONNECT_MS = 2000;

/** Ids of imports whose state changed, whichever process changed it. */
@Injectable()
export class ImportNotices implements OnApplicationShutdown {
  private readonly logger = new Logger('imports');
  private readonly changes = new Subject<string>();
  private client: pg.Client | undefined;
  private isStopping = false;

  constructor(@Inject(CONFIG) private readonly config: Config) {}

  async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.config.DATABASE_URL, application_name: 'ebrix-notices' });
    this.client = client;
    client.on('notification', ({ payload }) => payload && this.changes.next(payload));
    client.on('error', (error) => this.logger.warn(error.message));
    client.on('end', () => this.reconnect());
    try {
      await client.connect();
      await client.query(`listen ${IMPORT_NOTICE}`);
    } catch (error) {
      this.logger.warn((error as Error).message);
      client.removeAllListeners('end');
      this.reconnect();
    }
  }

  stream(): Observable<string> {
    return this.changes.asObservable();
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
