import { Controller, HttpCode, Post, Put } from '@nestjs/common';
import type { z } from 'zod';
import {
  alongRideInputSchema,
  takeAlongSchema,
  type AlongBundle,
  type AlongRideInput,
  type Ride,
} from '@ebrix/contract';
import { Id, ValidBody } from '../common/params.js';
import { AlongService } from './along.service.js';

@Controller('along')
export class AlongController {
  constructor(private readonly along: AlongService) {}

  @Post()
  @HttpCode(200)
  take(@ValidBody(takeAlongSchema) body: z.output<typeof takeAlongSchema>): Promise<AlongBundle> {
    return this.along.take(body);
  }

  @Put('rides/:id')
  bring(@Id() id: string, @ValidBody(alongRideInputSchema) body: AlongRideInput): Promise<Ride> {
    return this.along.bring(id, body);
  }
}
