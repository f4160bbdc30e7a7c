import { Module } from '@nestjs/common';
import { CourseController } from './course.controller.js';
import { CourseRepository } from './course.repository.js';
import { CourseService } from './course.service.js';

@Module({ controllers: [CourseController], providers: [CourseService, CourseRepository], exports: [CourseService] })
export class CourseModule {}
