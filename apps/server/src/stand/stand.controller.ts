import { Controller, Delete, Get, Post, Put } from '@nestjs/common';
import type { z } from 'zod';
import { findingInputSchema, standInputSchema, type Finding, type StandInput, type StandRecord } from '@ebrix/contract';
import { Id, ValidBody } from '../common/params.js';
import { StandService } from './stand.service.js';

@Controller()
export class StandController {
  constructor(private readonly stands: StandService) {}

  @Get('setups/:id/stand')
  list(@Id() setupId: string): Promise<StandRecord[]> {
    return this.stands.list(setupId);
  }

  @Put('revisions/:id/stand')
  save(@Id() revisionId: string, @ValidBody(standInputSchema) body: StandInput): Promise<StandRecord> {
    return this.stands.save(revisionId, body);
  }

  @Get('setups/:id/findings')
  findings(@Id() setupId: string): Promise<Finding[]> {
    return this.stands.findings(setupId);
  }

  @Post('setups/:id/findings')
  addFinding(
    @Id() setupId: string,
    @ValidBody(findingInputSchema) body: z.output<typeof findingInputSchema>,
  ): Promise<Finding[]> {
    return this.stands.addFinding(setupId, body);
  }

  @Delete('setups/:id/findings/:findingId')
  removeFinding(@Id() setupId: string, @Id('findingId') findingId: string): Promise<Finding[]> {
    return this.stands.removeFinding(setupId, findingId);
  }
}
