import { Controller, Delete, Get, HttpCode, Post, Put } from '@nestjs/common';
import { z } from 'zod';
import {
  outingInputSchema,
  versioned,
  type Outing,
  type OutingInput,
  seenQuerySchema,
  type SeenQuery,
} from '@ebrix/contract';
import { Id, ValidBody, ValidQuery } from '../common/params.js';
import { OutingService } from './outing.service.js';

const changeSchema = versioned(outingInputSchema);

@Controller('outings')
export class OutingController {
  constructor(private readonly outings: OutingService) {}

  @Get()
  list(): Promise<Outing[]> {
    return this.outings.list();
  }

  @Post()
  add(@ValidBody(outingInputSchema) body: OutingInput): Promise<Outing> {
    return this.outings.add(body);
  }

  @Put(':id')
  change(
    @Id() id: string,
    @ValidBody(changeSchema) { version, ...input }: z.output<typeof changeSchema>,
  ): Promise<Outing> {
    return this.outings.change(id, version, input);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Id() id: string, @ValidQuery(seenQuerySchema) { version }: SeenQuery): Promise<void> {
    return this.outings.remove(id, version);
  }
}
