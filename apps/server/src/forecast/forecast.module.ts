import { Module } from '@nestjs/common';
import { CourseModule } from '../courses/course.module.js';
import { LogbookModule } from '../logbook/logbook.module.js';
import { OutingModule } from '../outings/outing.module.js';
import { RunModule } from '../runs/run.module.js';
import { SetupModule } from '../setups/setup.module.js';
import { CalibrationService } from './calibration.service.js';
import { ForecastController } from './forecast.controller.js';
import { KeptForecastRepository } from './kept-forecast.repository.js';
import { RideConditionsRepository } from './ride-conditions.repository.js';
import { LearnedBikeRepository } from './learned-bike.repository.js';
import { KeptForecastService } from './kept-forecast.service.js';

@Module({
  imports: [CourseModule, LogbookModule, OutingModule, RunModule, SetupModule],
  controllers: [ForecastController],
  providers: [
    CalibrationService,
    KeptForecastService,
    KeptForecastRepository,
    LearnedBikeRepository,
    RideConditionsRepository,
  ],
  exports: [CalibrationService, KeptForecastService],
})
export class ForecastModule {}
