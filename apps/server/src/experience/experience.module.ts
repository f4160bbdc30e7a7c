import { Module } from '@nestjs/common';
import { RatingController } from './rating.controller.js';
import { RatingRepository } from './rating.repository.js';

@Module({
  controllers: [RatingController],
  providers: [RatingRepository],
  exports: [RatingRepository],
})
export class ExperienceModule {}
