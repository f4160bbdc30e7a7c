import { Controller, Delete, Get, HttpCode, Post } from '@nestjs/common';
import type { z } from 'zod';
import { reanalysisInputSchema, type Reanalysis } from '@ebrix/contract';
import { Id, ValidBody } from '../common/params.js';
import { ReanalysisService } from './reanalysis.service.js';

@Controller('reanalysis')
export class ReanalysisController {
  constructor(private readonly reanalyses: ReanalysisService) {}

  @Get()
  overview(): Promise<{ outdated: number; latest: Reanalysis | null }> {
    return this.reanalyses.overview();
  }

  @Post()
  @HttpCode(202)
  begin(@ValidBody(reanalysisInputSchema) { scope }: z.output<typeof reanalysisInputSchema>): Promise<Reanalysis> {
    return this.reanalyses.begin(scope);
  }

  @Delete(':id')
  cancel(@Id() id: string): Promise<Reanalysis> {
    return this.reanalyses.cancel(id);
  }
}
