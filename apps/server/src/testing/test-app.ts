import 'reflect-metadata';
import { randomBytes } from 'node:crypto';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { Test } from '@nestjs/testing';
import knex from 'knex';
import request from 'supertest';
import type TestAgent from 'supertest/lib/agent.js';
import { AppModule } from '../app.module.js';
import { readConfig } from '../common/config.js';
import { JobPool, PagePool } from '../compute/compute-pool.js';
import { TASKS, type TaskInput, type TaskName } from '../compute/tasks.js';
import { configureApp } from '../configure-app.js';
import { urlOfDatabase } from '../database/connect.js';
import { migratedDatabase } from './migrated-database.js';
import { JobWorkers } from '../jobs/job-workers.js';

/** The tasks without threads: Jest translates sources in this process only. */
class InlinePool {
  run<N extends TaskName>(name: N, input: TaskInput<N>): Promise<unknown> {
    return Promise.resolve((TASKS[name] as (input: TaskInput<N>) => unknown)(structuredClone(input)));
  }
  state(): { of: number; busy: number; waiting: number } {
    return { of: 1, busy: 0, waiting: 0 };
  }
}

export interface TestApp {
  readonly app: NestExpressApplication;
  readonly api: TestAgent;
  readonly close: () => Promise<void>;
}

/** The whole server on a fresh database of the throw-away cluster that `npm test` started, or on one that `fill` made. */
export async function startTestApp(fill?: (url: string) => Promise<void>): Promise<TestApp> {
  const cluster = process.env['EBRIX_TEST_DATABASE'];
  if (!cluster) throw new Error('Server tests need EBRIX_TEST_DATABASE, which `npm test` sets.');
  const name = `test_${randomBytes(6).toString('hex')}`;
  const admin = knex({ client: 'pg', connection: cluster, pool: { min: 0, max: 1 } });
  await admin.raw(`create database ${name}${fill ? '' : ` template ${await migratedDatabase(admin, cluster)}`}`);
  const url = urlOfDatabase(cluster, name);
  await fill?.(url);
  const config = readConfig({ DATABASE_URL: url, LOG_LEVEL: 'error' });
  const module = await Test.createTestingModule({ imports: [AppModule.with(config)] })
    .overrideProvider(PagePool)
    .useClass(InlinePool)
    .overrideProvider(JobPool)
    .useClass(InlinePool)
    .compile();
  const app = module.createNestApplication<NestExpressApplication>({ bodyParser: false, logger: ['error', 'warn'] });
  configureApp(app, undefined);
  await app.init();
  await app.get(JobWorkers).start(1);
  return {
    app,
    api: request(app.getHttpServer()),
    close: async () => {
      await app.close();
      await admin.raw(`drop database ${name} with (force)`);
      await admin.destroy();
    },
  };
}
