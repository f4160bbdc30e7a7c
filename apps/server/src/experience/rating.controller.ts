import { Controller, Delete, Get, HttpCode, Post } from '@nestjs/common';
import { ratingInputSchema, type RatingDto, type RatingInput } from '@ebrix/contract';
import { notFound } from '../common/domain-error.js';
import { Id, ValidBody } from '../common/params.js';
import { RatingRepository } from './rating.repository.js';

/** What riders say of setups; stored as said, put together by the core in the page. */
@Controller()
export class RatingController {
  constructor(private readonly ratings: RatingRepository) {}

  @Get('setups/:id/ratings')
  ofSetup(@Id() id: string): Promise<RatingDto[]> {
    return this.ratings.ofSetup(id);
  }

  @Get('trials/:id/ratings')
  ofTrial(@Id() id: string): Promise<RatingDto[]> {
    return this.ratings.ofTrial(id);
  }

  @Post('setups/:id/ratings')
  async add(@Id() id: string, @ValidBody(ratingInputSchema) body: RatingInput): Promise<RatingDto[]> {
    if (!(await this.ratings.isOfSetup(body.revisionId, id))) throw notFound('This revision of the setup');
    await this.ratings.insert(body);
    return this.ratings.ofSetup(id);
  }

  @Delete('ratings/:id')
  @HttpCode(204)
  async remove(@Id() id: string): Promise<void> {
    if ((await this.ratings.delete(id)) === 0) throw notFound('This rating');
  }
}
