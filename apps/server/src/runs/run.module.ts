import { Module } from '@nestjs/common';
import { BenchModule } from '../bench/bench.module.js';
import { QueueModule } from '../imports/queue.module.js';
import { CourseModule } from '../courses/course.module.js';
import { OutingModule } from '../outings/outing.module.js';
import { OutingRepository } from '../outings/outing.repository.js';
import { SetupModule } from '../setups/setup.module.js';
import { LogRepository } from './log.repository.js';
import { RunContextService } from './run-context.service.js';
import { RunController } from './run.controller.js';
import { RunRepository } from './run.repository.js';
import { RunService } from './run.service.js';
import { StripService } from './strip.service.js';

@Module({
  imports: [BenchModule, CourseModule, SetupModule, OutingModule, QueueModule],
  controllers: [RunController],
  providers: [RunService, RunRepository, LogRepository, StripService, RunContextService, OutingRepository],
  exports: [RunRepository, LogRepository, RunContextService],
})
export class RunModule {}
