import 'reflect-metadata';
import { availableParallelism } from 'node:os';
import { NestFactory } from '@nestjs/core';
import { Logger } from 'nestjs-pino';
import { AppModule } from './app.module.js';
import { readConfig } from './common/config.js';
import { surviveDatabaseLoss } from './common/survive-database-loss.js';
import { JobWorkers } from './jobs/job-workers.js';

/** Takes jobs from the database without serving pages; any number of these may run. */
const worker = await NestFactory.createApplicationContext(AppModule.with(readConfig(process.env)), {
  bufferLogs: true,
});
worker.useLogger(worker.get(Logger));
surviveDatabaseLoss();
worker.enableShutdownHooks();
await worker.get(JobWorkers).start(availableParallelism());
process.stdout.write('Ebrix worker takes jobs. Ctrl-C stops it.\n');
