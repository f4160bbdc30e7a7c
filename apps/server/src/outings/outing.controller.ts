import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import { z } from 'zod';
import { idSchema, outingInputSchema, versioned, type Outing, type OutingInput } from '@ebrix/contract';
import { ZodPipe } from '../common/zod.pipe.js';
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
  add(@Body(new ZodPipe(outingInputSchema)) body: OutingInput): Promise<Outing> {
    return this.outings.add(body);
  }

  @Put(':id')
  change(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(changeSchema)) { version, ...input }: z.output<typeof changeSchema>,
  ): Promise<Outing> {
    return this.outings.change(id, version, input);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', new ZodPipe(idSchema)) id: string): Promise<void> {
    return this.outings.remove(id);
  }
}
