import { Module } from '@nestjs/common';
import { SetupModule } from '../setups/setup.module.js';
import { StandController } from './stand.controller.js';
import { StandRepository } from './stand.repository.js';
import { StandService } from './stand.service.js';

@Module({
  imports: [SetupModule],
  controllers: [StandController],
  providers: [StandService, StandRepository],
  exports: [StandService],
})
export class StandModule {}
