import { Module } from '@nestjs/common';
import { Clock } from '../common/clock.js';
import { BackupService } from './backup.service.js';
import { LoadService } from './load.service.js';
import { RetentionRepository } from './retention.repository.js';
import { TrashRepository } from './trash.repository.js';
import { UpkeepController } from './upkeep.controller.js';

@Module({
  controllers: [UpkeepController],
  providers: [BackupService, Clock, LoadService, RetentionRepository, TrashRepository],
  exports: [BackupService],
})
export class UpkeepModule {}
