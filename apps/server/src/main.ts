import 'reflect-metadata';
import { availableParallelism } from 'node:os';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { Logger } from 'nestjs-pino';
import { AppModule } from './app.module.js';
import { readConfig } from './common/config.js';
import { surviveDatabaseLoss } from './common/survive-database-loss.js';
import { configureApp } from './configure-app.js';
import { DemoService } from './demo/demo.service.js';
import { ChangeNotifications } from './database/change-notifications.js';
import { JobWorkers } from './jobs/job-workers.js';

const config = readConfig(process.env);
const app = await NestFactory.create<NestExpressApplication>(AppModule.with(config), {
  bufferLogs: true,
  bodyParser: false,
  // Pages that listen for events keep their connections open for ever.
  forceCloseConnections: true,
});
app.useLogger(app.get(Logger));
surviveDatabaseLoss();
configureApp(app, config.EBRIX_WEB);
await app.get(ChangeNotifications).listen();
await app.get(JobWorkers).start(Math.max(1, Math.min(4, availableParallelism())));
await app.listen(config.PORT, config.HOST);
if (config.EBRIX_DEMO === 'yes') await app.get(DemoService).beginIfWanted();
process.send?.({ ready: true });
// When the starter dies without a word, nobody else would stop this process.
process.on('disconnect', () => void app.close().then(() => process.exit(0)));
