import { Controller, Delete, Get, HttpCode, Post, Put } from '@nestjs/common';
import type { z } from 'zod';
import {
  archiveInputSchema,
  quickWeighUpSchema,
  useChangeSchema,
  useInputSchema,
  weighUpRequestSchema,
  type UseDto,
  type UseInput,
  type Weighed,
  type WeighUp,
  type WeighUpRequest,
  seenQuerySchema,
  type SeenQuery,
} from '@ebrix/contract';
import { Id, ValidBody, ValidQuery } from '../common/params.js';
import { UseService } from './use.service.js';
import { WeighUpService } from './weigh-up.service.js';

@Controller()
export class UseController {
  constructor(
    private readonly uses: UseService,
    private readonly weighUps: WeighUpService,
  ) {}

  @Get('uses')
  list(): Promise<UseDto[]> {
    return this.uses.list();
  }

  @Get('uses/:id')
  get(@Id() id: string): Promise<UseDto> {
    return this.uses.get(id);
  }

  @Post('uses')
  add(@ValidBody(useInputSchema) body: UseInput): Promise<UseDto> {
    return this.uses.add(body);
  }

  @Put('uses/:id')
  change(
    @Id() id: string,
    @ValidBody(useChangeSchema) { version, ...input }: z.output<typeof useChangeSchema>,
  ): Promise<UseDto> {
    return this.uses.change(id, version, input);
  }

  @Put('uses/:id/archive')
  archive(
    @Id() id: string,
    @ValidBody(archiveInputSchema) { version, archived }: z.output<typeof archiveInputSchema>,
  ): Promise<UseDto> {
    return this.uses.change(id, version, { archived });
  }

  @Delete('uses/:id')
  @HttpCode(204)
  remove(@Id() id: string, @ValidQuery(seenQuerySchema) { version }: SeenQuery): Promise<void> {
    return this.uses.remove(id, version);
  }

  @Post('weigh-up')
  @HttpCode(200)
  weighUp(@ValidBody(weighUpRequestSchema) body: WeighUpRequest): Promise<WeighUp> {
    return this.weighUps.weighUp(body);
  }

  @Post('quick-look/weigh-up')
  @HttpCode(200)
  quick(@ValidBody(quickWeighUpSchema) body: z.output<typeof quickWeighUpSchema>): Promise<Weighed> {
    return this.weighUps.quick(body);
  }
}
