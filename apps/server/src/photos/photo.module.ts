import { Module } from '@nestjs/common';
import { PhotoController } from './photo.controller.js';
import { PhotoRepository } from './photo.repository.js';
import { PhotoService } from './photo.service.js';

@Module({
  controllers: [PhotoController],
  providers: [PhotoRepository, PhotoService],
  exports: [PhotoRepository, PhotoService],
})
export class PhotoModule {}
