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
import { BackupService } from './upkeep/backup.service.js';
import { requireSafeHost, shareWhenClosed } from './sharing.js';
import { JobWorkers } from './jobs/job-workers.js';
import { LiveExchange } from './loggers/live-exchange.js';
import { ReliabilityService } from './logbook/reliability.service.js';

const config = readConfig(process.env);
requireSafeHost(config);
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
app.get(LiveExchange).start();
await app.get(JobWorkers).start(Math.max(1, Math.min(4, availableParallelism())));
await app.listen(config.PORT, config.HOST);
if (config.EBRIX_DEMO === 'yes') await app.get(DemoService).beginIfWanted();
process.send?.({ ready: true });
app.get(BackupService).start();
const sharing = shareWhenClosed(app, config, (note) => process.send?.({ note }));
// Once: a listener that stays would keep the process from ending by the signal.
process.once('SIGTERM', () => sharing.close());
process.once('SIGINT', () => sharing.close());
// The first to look at the logbook should not wait for years of entries to be gone through.
void app
  .get(ReliabilityService)
  .of('kit', undefined)
  .catch(() => undefined);
// When the starter dies without a word, nobody else would stop this process.
process.on('disconnect', () => void app.close().then(() => process.exit(0)));
