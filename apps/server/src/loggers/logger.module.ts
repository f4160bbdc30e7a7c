import { Module } from '@nestjs/common';
import { Clock } from '../common/clock.js';
import { LoggerController } from './logger.controller.js';
import { LoggerHub } from './logger-hub.js';
import { LoggerSocket } from './logger-socket.js';
import { SessionRepository } from './session.repository.js';

@Module({
  controllers: [LoggerController],
  providers: [LoggerHub, LoggerSocket, SessionRepository, Clock],
  exports: [LoggerHub, LoggerSocket, SessionRepository],
})
export class LoggingModule {}
