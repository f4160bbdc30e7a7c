import { rm } from 'node:fs/promises';
import { Controller, HttpCode, Post, Put, UploadedFile, UseInterceptors } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import type { z } from 'zod';
import {
  alongRideInputSchema,
  takeAlongSchema,
  type AlongBundle,
  type AlongFileOutcome,
  type AlongRideInput,
  type Ride,
} from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { Id, ValidBody } from '../common/params.js';
import { OUTING_FILE } from '../common/uploads.js';
import { AlongFileService } from './along-file.service.js';
import { AlongService } from './along.service.js';

@Controller('along')
export class AlongController {
  constructor(
    private readonly along: AlongService,
    private readonly files: AlongFileService,
  ) {}

  @Post()
  @HttpCode(200)
  take(@ValidBody(takeAlongSchema) body: z.output<typeof takeAlongSchema>): Promise<AlongBundle> {
    return this.along.take(body);
  }

  @Post('file')
  @HttpCode(200)
  @UseInterceptors(FileInterceptor('file', OUTING_FILE))
  async file(@UploadedFile() file: Express.Multer.File | undefined): Promise<AlongFileOutcome[]> {
    if (!file) throw new DomainError('no-file', 'No file came with the request. Send it in the field "file".');
    try {
      return await this.files.take(file.path);
    } finally {
      await rm(file.path, { force: true });
    }
  }

  @Put('rides/:id')
  bring(@Id() id: string, @ValidBody(alongRideInputSchema) body: AlongRideInput): Promise<Ride> {
    return this.along.bring(id, body);
  }
}
