import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import type { z } from 'zod';
import {
  clockInputSchema,
  fittingInputSchema,
  fittingTemplateInputSchema,
  idSchema,
  type Fitting,
  type FittingSummary,
  type FittingTemplate,
} from '@ebrix/contract';
import { ZodPipe } from '../common/zod.pipe.js';
import { FittingService } from './fitting.service.js';

const id = new ZodPipe(idSchema);

@Controller()
export class FittingController {
  constructor(private readonly fittings: FittingService) {}

  @Get('fittings')
  summaries(): Promise<FittingSummary[]> {
    return this.fittings.summaries();
  }

  @Get('setups/:id/fitting')
  get(@Param('id', id) setupId: string): Promise<Fitting> {
    return this.fittings.get(setupId);
  }

  @Put('setups/:id/fitting')
  save(
    @Param('id', id) setupId: string,
    @Body(new ZodPipe(fittingInputSchema)) body: z.output<typeof fittingInputSchema>,
  ): Promise<Fitting> {
    return this.fittings.save(setupId, body);
  }

  @Post('setups/:id/fitting/clock')
  @HttpCode(200)
  clock(
    @Param('id', id) setupId: string,
    @Body(new ZodPipe(clockInputSchema)) body: z.output<typeof clockInputSchema>,
  ): Promise<Fitting> {
    return this.fittings.setClock(setupId, body);
  }

  @Get('fitting-templates')
  templates(): Promise<FittingTemplate[]> {
    return this.fittings.templates();
  }

  @Post('fitting-templates')
  saveTemplate(
    @Body(new ZodPipe(fittingTemplateInputSchema)) body: z.output<typeof fittingTemplateInputSchema>,
  ): Promise<FittingTemplate[]> {
    return this.fittings.saveTemplate(body);
  }

  @Delete('fitting-templates/:id')
  removeTemplate(@Param('id', id) templateId: string): Promise<FittingTemplate[]> {
    return this.fittings.removeTemplate(templateId);
  }
}
