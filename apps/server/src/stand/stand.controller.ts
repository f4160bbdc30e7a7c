import { Body, Controller, Delete, Get, Param, Post, Put } from '@nestjs/common';
import type { z } from 'zod';
import {
  findingInputSchema,
  idSchema,
  standInputSchema,
  type Finding,
  type StandInput,
  type StandRecord,
} from '@ebrix/contract';
import { ZodPipe } from '../common/zod.pipe.js';
import { StandService } from './stand.service.js';

const id = new ZodPipe(idSchema);

@Controller()
export class StandController {
  constructor(private readonly stands: StandService) {}

  @Get('setups/:id/stand')
  list(@Param('id', id) setupId: string): Promise<StandRecord[]> {
    return this.stands.list(setupId);
  }

  @Put('revisions/:id/stand')
  save(
    @Param('id', id) revisionId: string,
    @Body(new ZodPipe(standInputSchema)) body: StandInput,
  ): Promise<StandRecord> {
    return this.stands.save(revisionId, body);
  }

  @Get('setups/:id/findings')
  findings(@Param('id', id) setupId: string): Promise<Finding[]> {
    return this.stands.findings(setupId);
  }

  @Post('setups/:id/findings')
  addFinding(
    @Param('id', id) setupId: string,
    @Body(new ZodPipe(findingInputSchema)) body: z.output<typeof findingInputSchema>,
  ): Promise<Finding[]> {
    return this.stands.addFinding(setupId, body);
  }

  @Delete('setups/:id/findings/:findingId')
  removeFinding(@Param('id', id) setupId: string, @Param('findingId', id) findingId: string): Promise<Finding[]> {
    return this.stands.removeFinding(setupId, findingId);
  }
}
