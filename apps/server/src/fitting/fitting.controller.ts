import { Controller, Delete, Get, HttpCode, Post, Put } from '@nestjs/common';
import type { z } from 'zod';
import {
  clockInputSchema,
  fittingInputSchema,
  saveFittingTemplateSchema,
  type Fitting,
  type FittingSummary,
  type FittingTemplate,
} from '@ebrix/contract';
import { Id, ValidBody } from '../common/params.js';
import { FittingService } from './fitting.service.js';

@Controller()
export class FittingController {
  constructor(private readonly fittings: FittingService) {}

  @Get('fittings')
  summaries(): Promise<FittingSummary[]> {
    return this.fittings.summaries();
  }

  @Get('setups/:id/fitting')
  get(@Id() setupId: string): Promise<Fitting> {
    return this.fittings.get(setupId);
  }

  @Put('setups/:id/fitting')
  save(
    @Id() setupId: string,
    @ValidBody(fittingInputSchema) body: z.output<typeof fittingInputSchema>,
  ): Promise<Fitting> {
    return this.fittings.save(setupId, body);
  }

  @Post('setups/:id/fitting/clock')
  @HttpCode(200)
  clock(@Id() setupId: string, @ValidBody(clockInputSchema) body: z.output<typeof clockInputSchema>): Promise<Fitting> {
    return this.fittings.setClock(setupId, body);
  }

  @Get('fitting-templates')
  templates(): Promise<FittingTemplate[]> {
    return this.fittings.templates();
  }

  @Post('fitting-templates')
  saveTemplate(
    @ValidBody(saveFittingTemplateSchema) body: z.output<typeof saveFittingTemplateSchema>,
  ): Promise<FittingTemplate[]> {
    return this.fittings.saveTemplate(body);
  }

  @Delete('fitting-templates/:id')
  removeTemplate(@Id() templateId: string): Promise<FittingTemplate[]> {
    return this.fittings.removeTemplate(templateId);
  }
}
