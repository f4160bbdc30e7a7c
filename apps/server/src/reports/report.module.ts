import { Module } from '@nestjs/common';
import { Clock } from '../common/clock.js';
import { DecideModule } from '../decide/decide.module.js';
import { ExperienceModule } from '../experience/experience.module.js';
import { FittingModule } from '../fitting/fitting.module.js';
import { LogbookModule } from '../logbook/logbook.module.js';
import { OutingModule } from '../outings/outing.module.js';
import { PhotoModule } from '../photos/photo.module.js';
import { RunModule } from '../runs/run.module.js';
import { SetupModule } from '../setups/setup.module.js';
import { TrialModule } from '../trials/trial.module.js';
import { ReportController } from './report.controller.js';
import { ReportRepository } from './report.repository.js';
import { ReportService } from './report.service.js';

@Module({
  imports: [
    DecideModule,
    ExperienceModule,
    FittingModule,
    LogbookModule,
    OutingModule,
    PhotoModule,
    RunModule,
    SetupModule,
    TrialModule,
  ],
  controllers: [ReportController],
  providers: [ReportService, ReportRepository, Clock],
  exports: [ReportService],
})
export class ReportModule {}
