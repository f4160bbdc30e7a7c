import { Body, Controller, Delete, Get, HttpCode, Param, Post } from '@nestjs/common';
import type { z } from 'zod';
import { idSchema, reanalysisInputSchema, type Reanalysis } from '@ebrix/contract';
import { ZodPipe } from '../common/zod.pipe.js';
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
  begin(
    @Body(new ZodPipe(reanalysisInputSchema)) { scope }: z.output<typeof reanalysisInputSchema>,
  ): Promise<Reanalysis> {
    return this.reanalyses.begin(scope);
  }

  @Delete(':id')
  cancel(@Param('id', new ZodPipe(idSchema)) id: string): Promise<Reanalysis> {
    return this.reanalyses.cancel(id);
  }
}
