import { Module } from '@nestjs/common';
import { BenchModule } from '../bench/bench.module.js';
import { JobModule } from '../jobs/job.module.js';
import { CourseModule } from '../courses/course.module.js';
import { OutingModule } from '../outings/outing.module.js';
import { OutingRepository } from '../outings/outing.repository.js';
import { SetupModule } from '../setups/setup.module.js';
import { LearnedReadingsRepository } from './learned-readings.repository.js';
import { LogRepository } from './log.repository.js';
import { ReanalysisController } from './reanalysis.controller.js';
import { ReanalysisRepository } from './reanalysis.repository.js';
import { ReanalysisService } from './reanalysis.service.js';
import { RunAnalyser } from './run-analyser.js';
import { RunContextService } from './run-context.service.js';
import { RunController } from './run.controller.js';
import { RunFigureRepository } from './run-figure.repository.js';
import { RunRepository } from './run.repository.js';
import { RunExportService } from './run-export.service.js';
import { RunService } from './run.service.js';
import { SplitService } from './split.service.js';
import { StripService } from './strip.service.js';

@Module({
  imports: [BenchModule, CourseModule, SetupModule, OutingModule, JobModule],
  controllers: [RunController, ReanalysisController],
  providers: [
    RunService,
    RunExportService,
    RunRepository,
    RunFigureRepository,
    LogRepository,
    StripService,
    SplitService,
    LearnedReadingsRepository,
    RunContextService,
    OutingRepository,
    RunAnalyser,
    ReanalysisRepository,
    ReanalysisService,
  ],
  exports: [
    RunService,
    LearnedReadingsRepository,
    SplitService,
    RunRepository,
    RunFigureRepository,
    LogRepository,
    RunContextService,
    RunAnalyser,
    RunExportService,
    ReanalysisService,
  ],
})
export class RunModule {}
