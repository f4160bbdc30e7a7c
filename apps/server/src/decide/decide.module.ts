import { Module } from '@nestjs/common';
import { CourseModule } from '../courses/course.module.js';
import { ExperienceModule } from '../experience/experience.module.js';
import { FittingModule } from '../fitting/fitting.module.js';
import { ForecastModule } from '../forecast/forecast.module.js';
import { LogbookModule } from '../logbook/logbook.module.js';
import { RunModule } from '../runs/run.module.js';
import { SetupModule } from '../setups/setup.module.js';
import { TrialModule } from '../trials/trial.module.js';
import { CostService } from './cost.service.js';
import { MoneyController } from './money.controller.js';
import { MoneyRepository } from './money.repository.js';
import { UseController } from './use.controller.js';
import { UseRepository } from './use.repository.js';
import { UseService } from './use.service.js';
import { WeighUpService } from './weigh-up.service.js';

@Module({
  imports: [
    CourseModule,
    ExperienceModule,
    FittingModule,
    ForecastModule,
    LogbookModule,
    RunModule,
    SetupModule,
    TrialModule,
  ],
  controllers: [UseController, MoneyController],
  providers: [UseService, UseRepository, WeighUpService, CostService, MoneyRepository],
  exports: [UseService, WeighUpService, CostService],
})
export class DecideModule {}
