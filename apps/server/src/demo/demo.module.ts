import { Module } from '@nestjs/common';
import { BenchModule } from '../bench/bench.module.js';
import { CourseModule } from '../courses/course.module.js';
import { ImportModule } from '../imports/import.module.js';
import { OutingModule } from '../outings/outing.module.js';
import { RunModule } from '../runs/run.module.js';
import { SetupModule } from '../setups/setup.module.js';
import { TrialModule } from '../trials/trial.module.js';
import { DemoService } from './demo.service.js';

@Module({
  imports: [BenchModule, SetupModule, CourseModule, OutingModule, ImportModule, RunModule, TrialModule],
  providers: [DemoService],
  exports: [DemoService],
})
export class DemoModule {}
