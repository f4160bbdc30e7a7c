import { Module } from '@nestjs/common';
import { JobModule } from '../jobs/job.module.js';
import { CourseController } from './course.controller.js';
import { CourseRepository } from './course.repository.js';
import { CourseService } from './course.service.js';

@Module({
  imports: [JobModule],
  controllers: [CourseController],
  providers: [CourseService, CourseRepository],
  exports: [CourseService, CourseRepository],
})
export class CourseModule {}
