import { Module } from '@nestjs/common';
import { BenchModule } from '../bench/bench.module.js';
import { Clock } from '../common/clock.js';
import { SetupModule } from '../setups/setup.module.js';
import { ConversionRepository } from './conversion.repository.js';
import { EntryRepository } from './entry.repository.js';
import { LifeService } from './life.service.js';
import { LogbookController } from './logbook.controller.js';
import { LogbookService } from './logbook.service.js';
import { LogbookSettingsRepository } from './logbook-settings.repository.js';
import { ReliabilityService } from './reliability.service.js';
import { RiddenRepository } from './ridden.repository.js';

@Module({
  imports: [BenchModule, SetupModule],
  controllers: [LogbookController],
  providers: [
    Clock,
    EntryRepository,
    ConversionRepository,
    LogbookSettingsRepository,
    RiddenRepository,
    LogbookService,
    LifeService,
    ReliabilityService,
  ],
  exports: [LogbookService, LifeService],
})
export class LogbookModule {}
