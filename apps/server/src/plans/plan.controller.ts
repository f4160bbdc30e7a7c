import { Controller, Get, HttpCode, Post, Put } from '@nestjs/common';
import type { z } from 'zod';
import {
  planBasisQuerySchema,
  planSaveSchema,
  type OpenSlot,
  type Plan,
  type PlanBasis,
  type PlanSave,
} from '@ebrix/contract';
import { Id, ValidBody } from '../common/params.js';
import { PlanService } from './plan.service.js';

@Controller()
export class PlanController {
  constructor(private readonly plans: PlanService) {}

  @Get('plans/open-slots')
  openSlots(): Promise<OpenSlot[]> {
    return this.plans.openSlots();
  }

  /** `null` while there is none: JSON, not an empty answer. */
  @Get('trials/:id/plan')
  async get(@Id() id: string): Promise<{ plan: Plan | null }> {
    return { plan: await this.plans.get(id) };
  }

  @Put('trials/:id/plan')
  save(@Id() id: string, @ValidBody(planSaveSchema) body: PlanSave): Promise<Plan> {
    return this.plans.save(id, body);
  }

  @Post('trials/:id/plan/basis')
  @HttpCode(200)
  basis(
    @Id() id: string,
    @ValidBody(planBasisQuerySchema) { tests, airTemperatureC }: z.output<typeof planBasisQuerySchema>,
  ): Promise<PlanBasis> {
    return this.plans.basis(id, tests, airTemperatureC);
  }
}
