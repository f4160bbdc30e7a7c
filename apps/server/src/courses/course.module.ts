import { Module } from '@nestjs/common';
import { QueueModule } from '../imports/queue.module.js';
import { CourseController } from './course.controller.js';
import { CourseRepository } from './course.repository.js';
import { CourseService } from './course.service.js';

@Module({
  imports: [QueueModule],
  controllers: [CourseController],
  providers: [CourseService, CourseRepository],
  exports: [CourseService, CourseRepository],
})
export class CourseModule {}
