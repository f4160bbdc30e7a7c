import { Module } from '@nestjs/common';
import { Clock } from '../common/clock.js';
import { SetupModule } from '../setups/setup.module.js';
import { FittingController } from './fitting.controller.js';
import { FittingRepository } from './fitting.repository.js';
import { FittingService } from './fitting.service.js';

@Module({
  imports: [SetupModule],
  controllers: [FittingController],
  providers: [FittingService, FittingRepository, Clock],
  exports: [FittingService],
})
export class FittingModule {}
