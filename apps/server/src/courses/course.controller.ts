import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  Post,
  Put,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { z } from 'zod';
import {
  archiveInputSchema,
  courseInputSchema,
  drawingSchema,
  idSchema,
  timingGatesInputSchema,
  versioned,
  type Course,
  type CourseInput,
} from '@ebrix/contract';
import { toUploadedLog, UPLOAD_OPTIONS } from '../common/uploads.js';
import { ZodPipe } from '../common/zod.pipe.js';
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
  get(@Param('id', new ZodPipe(idSchema)) id: string): Promise<Course> {
    return this.courses.get(id);
  }

  @Post()
  add(@Body(new ZodPipe(courseInputSchema)) body: CourseInput): Promise<Course> {
    return this.courses.add(body);
  }

  @Put(':id')
  change(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(changeSchema)) { version, ...change }: z.output<typeof changeSchema>,
  ): Promise<Course> {
    return this.courses.change(id, version, change);
  }

  @Put(':id/archive')
  archive(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(archiveInputSchema)) { version, archived }: z.output<typeof archiveInputSchema>,
  ): Promise<Course> {
    return this.courses.change(id, version, { archived });
  }

  @Put(':id/gates')
  setGates(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(timingGatesInputSchema)) body: z.output<typeof timingGatesInputSchema>,
  ): Promise<Course> {
    return this.courses.setGates(id, body);
  }

  @Put(':id/drawing')
  draw(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(drawingSchema)) body: z.output<typeof drawingSchema>,
  ): Promise<Course> {
    return this.courses.draw(id, body);
  }

  @Post(':id/track')
  @HttpCode(200)
  @UseInterceptors(FileInterceptor('file', UPLOAD_OPTIONS))
  setTrack(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @UploadedFile() file: Express.Multer.File | undefined,
  ): Promise<Course> {
    return this.courses.setTrack(id, toUploadedLog(file));
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', new ZodPipe(idSchema)) id: string): Promise<void> {
    return this.courses.remove(id);
  }
}
