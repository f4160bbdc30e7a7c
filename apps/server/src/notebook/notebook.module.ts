import { Module } from '@nestjs/common';
import { BenchModule } from '../bench/bench.module.js';
import { CourseModule } from '../courses/course.module.js';
import { ImportModule } from '../imports/import.module.js';
import { JobModule } from '../jobs/job.module.js';
import { OutingModule } from '../outings/outing.module.js';
import { SetupModule } from '../setups/setup.module.js';
import { NotebookController } from './notebook.controller.js';
import { NotebookService } from './notebook.service.js';

@Module({
  imports: [BenchModule, SetupModule, CourseModule, OutingModule, ImportModule, JobModule],
  controllers: [NotebookController],
  providers: [NotebookService],
  exports: [NotebookService],
})
export class NotebookModule {}
