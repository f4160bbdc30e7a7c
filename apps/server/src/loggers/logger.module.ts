import { Module } from '@nestjs/common';
import { Clock } from '../common/clock.js';
import { LoggerController } from './logger.controller.js';
import { LiveExchange } from './live-exchange.js';
import { LoggerHub } from './logger-hub.js';
import { LoggerSecretController } from './logger-secret.controller.js';
import { LoggerSecrets } from './logger-secrets.js';
import { LoggerSocket } from './logger-socket.js';
import { SessionRepository } from './session.repository.js';
import { SessionsElsewhere } from './sessions-elsewhere.js';

@Module({
  controllers: [LoggerController, LoggerSecretController],
  providers: [LoggerHub, LoggerSecrets, LoggerSocket, LiveExchange, SessionsElsewhere, SessionRepository, Clock],
  exports: [LiveExchange, LoggerHub, LoggerSecrets, LoggerSocket, SessionRepository],
})
export class LoggingModule {}
