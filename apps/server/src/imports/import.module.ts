import { Module } from '@nestjs/common';
import { CourseModule } from '../courses/course.module.js';
import { RunModule } from '../runs/run.module.js';
import { SetupModule } from '../setups/setup.module.js';
import { ImportController } from './import.controller.js';
import { ImportProcessor } from './import.processor.js';
import { ImportLeaseRepository } from './import-lease.repository.js';
import { ImportRepository } from './import.repository.js';
import { ImportService } from './import.service.js';
import { ProfileRepository } from './profile.repository.js';
import { JobModule } from '../jobs/job.module.js';

@Module({
  imports: [JobModule, RunModule, SetupModule, CourseModule],
  controllers: [ImportController],
  providers: [ImportService, ImportProcessor, ImportRepository, ImportLeaseRepository, ProfileRepository],
  exports: [ImportService, ImportProcessor, ImportRepository],
})
export class ImportModule {}
