import { Controller, Delete, Get, HttpCode, Post, Put, UploadedFile, UseInterceptors } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { z } from 'zod';
import {
  archiveInputSchema,
  courseInputSchema,
  drawingSchema,
  timingGatesInputSchema,
  versioned,
  type Course,
  type CourseInput,
  seenQuerySchema,
  type SeenQuery,
} from '@ebrix/contract';
import { toUploadedLog, UPLOAD_OPTIONS } from '../common/uploads.js';
import { Id, ValidBody, ValidQuery } from '../common/params.js';
import { CourseService } from './course.service.js';

const changeSchema = versioned(courseInputSchema);

@Controller('courses')
export class CourseController {
  constructor(private readonly courses: CourseService) {}

  @Get()
  list(): Promise<Course[]> {
    return this.courses.list();
  }

  @Get(':id')
  get(@Id() id: string): Promise<Course> {
    return this.courses.get(id);
  }

  @Post()
  add(@ValidBody(courseInputSchema) body: CourseInput): Promise<Course> {
    return this.courses.add(body);
  }

  @Put(':id')
  change(
    @Id() id: string,
    @ValidBody(changeSchema) { version, ...change }: z.output<typeof changeSchema>,
  ): Promise<Course> {
    return this.courses.change(id, version, change);
  }

  @Put(':id/archive')
  archive(
    @Id() id: string,
    @ValidBody(archiveInputSchema) { version, archived }: z.output<typeof archiveInputSchema>,
  ): Promise<Course> {
    return this.courses.change(id, version, { archived });
  }

  @Put(':id/gates')
  setGates(
    @Id() id: string,
    @ValidBody(timingGatesInputSchema) body: z.output<typeof timingGatesInputSchema>,
  ): Promise<Course> {
    return this.courses.setGates(id, body);
  }

  @Put(':id/drawing')
  draw(@Id() id: string, @ValidBody(drawingSchema) body: z.output<typeof drawingSchema>): Promise<Course> {
    return this.courses.draw(id, body);
  }

  @Post(':id/track')
  @HttpCode(200)
  @UseInterceptors(FileInterceptor('file', UPLOAD_OPTIONS))
  setTrack(
    @Id() id: string,
    @UploadedFile() file: Express.Multer.File | undefined,
    @ValidQuery(seenQuerySchema) { version }: SeenQuery,
  ): Promise<Course> {
    return this.courses.setTrack(id, toUploadedLog(file), version);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Id() id: string, @ValidQuery(seenQuerySchema) { version }: SeenQuery): Promise<void> {
    return this.courses.remove(id, version);
  }
}
