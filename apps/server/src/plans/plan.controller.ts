import { Body, Controller, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import type { z } from 'zod';
import {
  idSchema,
  planBasisQuerySchema,
  planSaveSchema,
  type Plan,
  type PlanBasis,
  type PlanSave,
} from '@ebrix/contract';
import { ZodPipe } from '../common/zod.pipe.js';
import { PlanService } from './plan.service.js';

@Controller('trials/:id/plan')
export class PlanController {
  constructor(private readonly plans: PlanService) {}

  /** `null` while there is none: JSON, not an empty answer. */
  @Get()
  async get(@Param('id', new ZodPipe(idSchema)) id: string): Promise<{ plan: Plan | null }> {
    return { plan: await this.plans.get(id) };
  }

  @Put()
  save(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(planSaveSchema)) body: PlanSave,
  ): Promise<Plan> {
    return this.plans.save(id, body);
  }

  @Post('basis')
  @HttpCode(200)
  basis(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(planBasisQuerySchema)) { tests, airTemperatureC }: z.output<typeof planBasisQuerySchema>,
  ): Promise<PlanBasis> {
    return this.plans.basis(id, tests, airTemperatureC);
  }
}
