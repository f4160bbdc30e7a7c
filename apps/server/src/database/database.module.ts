import { Global, Inject, Injectable, Module, type OnApplicationShutdown } from '@nestjs/common';
import knex, { type Knex } from 'knex';
import pg from 'pg';
import { CONFIG, type Config } from '../common/config.js';
import { checkMigrations } from './check-migrations.js';
import { MigrationSource } from './migration-source.js';
import { ChangeNotifications } from './change-notifications.js';

// A day is a day: the driver would make it a midnight of this machine's time zone.
pg.types.setTypeParser(pg.types.builtins.DATE, (text) => text);

export const KNEX = Symbol('knex');

export function connect(url: string): Knex {
  return knex({
    client: 'pg',
    connection: { connectionString: url, application_name: 'ebrix' },
    pool: { min: 0, max: 12 },
    acquireConnectionTimeout: 10_000,
    migrations: { migrationSource: new MigrationSource() },
  });
}

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
        await database.migrate.latest();
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
