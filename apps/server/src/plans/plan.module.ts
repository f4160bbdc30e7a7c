import { Module } from '@nestjs/common';
import { CourseModule } from '../courses/course.module.js';
import { ForecastModule } from '../forecast/forecast.module.js';
import { RunModule } from '../runs/run.module.js';
import { SetupModule } from '../setups/setup.module.js';
import { TrialModule } from '../trials/trial.module.js';
import { PlanController } from './plan.controller.js';
import { PlanRepository } from './plan.repository.js';
import { PlanService } from './plan.service.js';

@Module({
  imports: [CourseModule, ForecastModule, RunModule, SetupModule, TrialModule],
  controllers: [PlanController],
  providers: [PlanService, PlanRepository],
  exports: [PlanRepository, PlanService],
})
export class PlanModule {}
