import { Global, Inject, Injectable, Module, type OnApplicationShutdown } from '@nestjs/common';
import type { Knex } from 'knex';
import { CONFIG, type Config } from '../common/config.js';
import { checkMigrations } from './check-migrations.js';
import { dumpBefore } from '../upkeep/dump-before.js';
import { connect } from './connect.js';
import { migrateWithCare } from './migrate.js';
import { ChangeNotifications } from './change-notifications.js';

export const KNEX = Symbol('knex');

@Injectable()
class DatabaseLifetime implements OnApplicationShutdown {
  constructor(@Inject(KNEX) private readonly database: Knex) {}
  async onApplicationShutdown(): Promise<void> {
    await this.database.destroy();
  }
}

@Global()
@Module({
  providers: [
    {
      provide: KNEX,
      inject: [CONFIG],
      useFactory: async (config: Config): Promise<Knex> => {
        const database = connect(config.DATABASE_URL);
        await migrateWithCare(database, (pending) => dumpBefore(config, pending));
        await checkMigrations(database);
        return database;
      },
    },
    DatabaseLifetime,
    ChangeNotifications,
  ],
  exports: [KNEX, ChangeNotifications],
})
export class DatabaseModule {}
