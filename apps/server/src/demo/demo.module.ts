import { Module } from '@nestjs/common';
import { BenchModule } from '../bench/bench.module.js';
import { CourseModule } from '../courses/course.module.js';
import { ElsewhereModule } from '../elsewhere/elsewhere.module.js';
import { ExperienceModule } from '../experience/experience.module.js';
import { ForecastModule } from '../forecast/forecast.module.js';
import { FittingModule } from '../fitting/fitting.module.js';
import { ImportModule } from '../imports/import.module.js';
import { NotebookModule } from '../notebook/notebook.module.js';
import { LogbookModule } from '../logbook/logbook.module.js';
import { OutingModule } from '../outings/outing.module.js';
import { PlanModule } from '../plans/plan.module.js';
import { ReportModule } from '../reports/report.module.js';
import { RunModule } from '../runs/run.module.js';
import { SetupModule } from '../setups/setup.module.js';
import { StandModule } from '../stand/stand.module.js';
import { TrialModule } from '../trials/trial.module.js';
import { DecideModule } from '../decide/decide.module.js';
import { DemoBenchService } from './demo-bench.service.js';
import { DemoDecideService } from './demo-decide.service.js';
import { DemoForecastService } from './demo-forecast.service.js';
import { DemoLogbookService } from './demo-logbook.service.js';
import { DemoTrialsService } from './demo-trials.service.js';
import { DemoService } from './demo.service.js';

@Module({
  imports: [
    BenchModule,
    SetupModule,
    FittingModule,
    StandModule,
    CourseModule,
    OutingModule,
    PlanModule,
    ImportModule,
    RunModule,
    TrialModule,
    NotebookModule,
    ExperienceModule,
    DecideModule,
    ReportModule,
    ElsewhereModule,
    ForecastModule,
    LogbookModule,
  ],
  providers: [
    DemoService,
    DemoBenchService,
    DemoTrialsService,
    DemoDecideService,
    DemoForecastService,
    DemoLogbookService,
  ],
  exports: [DemoService],
})
export class DemoModule {}
