import { Module } from '@nestjs/common';
import { PhotoController } from './photo.controller.js';
import { PhotoRepository } from './photo.repository.js';

@Module({ controllers: [PhotoController], providers: [PhotoRepository], exports: [PhotoRepository] })
export class PhotoModule {}
