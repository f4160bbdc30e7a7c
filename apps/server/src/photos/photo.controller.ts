import {
  Controller,
  Delete,
  Get,
  Header,
  HttpCode,
  Post,
  StreamableFile,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { memoryStorage } from 'multer';
import { z } from 'zod';
import { photoInputSchema, photoOwnerQuerySchema, type Photo, type PhotoInput } from '@ebrix/contract';
import { DomainError, notFound } from '../common/domain-error.js';
import { Id, ValidBody, ValidQuery } from '../common/params.js';
import { PhotoRepository } from './photo.repository.js';
import { PhotoService } from './photo.service.js';

const PHOTO_UPLOAD = {
  storage: memoryStorage(),
  limits: { fileSize: 24 * 1024 * 1024, files: 1, fields: 8, fieldSize: 4096, parts: 10 },
};
@Controller('photos')
export class PhotoController {
  constructor(
    private readonly photos: PhotoRepository,
    private readonly service: PhotoService,
  ) {}

  @Get()
  list(
    @ValidQuery(photoOwnerQuerySchema) { owner, ownerId }: z.output<typeof photoOwnerQuerySchema>,
  ): Promise<Photo[]> {
    return this.photos.listOf(owner, ownerId);
  }

  @Post()
  @UseInterceptors(FileInterceptor('file', PHOTO_UPLOAD))
  async add(
    @ValidBody(photoInputSchema) fields: PhotoInput,
    @UploadedFile() file: Express.Multer.File | undefined,
  ): Promise<Photo> {
    if (!file) throw new DomainError('no-file', 'No file came with the request. Send it in the field "file".');
    return this.service.add(fields, file.buffer);
  }

  @Get(':id/image')
  @Header('Content-Type', 'image/jpeg')
  @Header('X-Content-Type-Options', 'nosniff')
  async image(@Id() photoId: string): Promise<StreamableFile> {
    const bytes = await this.photos.findBytes(photoId);
    if (!bytes) throw notFound('This photo');
    return new StreamableFile(bytes);
  }

  @Delete(':id')
  @HttpCode(204)
  async remove(@Id() photoId: string): Promise<void> {
    if ((await this.photos.setRemoved(photoId, true)) === 0) throw notFound('This photo');
  }

  @Post(':id/restore')
  @HttpCode(204)
  async restore(@Id() photoId: string): Promise<void> {
    if ((await this.photos.setRemoved(photoId, false)) === 0) throw notFound('This photo');
  }
}
