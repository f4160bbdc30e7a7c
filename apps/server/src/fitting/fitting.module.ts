import { Module } from '@nestjs/common';
import { Clock } from '../common/clock.js';
import { SetupModule } from '../setups/setup.module.js';
import { FittingRecordController } from './fitting-record.controller.js';
import { FittingRecordRepository } from './fitting-record.repository.js';
import { FittingController } from './fitting.controller.js';
import { FittingRepository } from './fitting.repository.js';
import { FittingService } from './fitting.service.js';

@Module({
  imports: [SetupModule],
  controllers: [FittingController, FittingRecordController],
  providers: [FittingService, FittingRepository, FittingRecordRepository, Clock],
  exports: [FittingService, FittingRecordRepository],
})
export class FittingModule {}
