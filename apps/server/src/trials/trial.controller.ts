import { Controller, Delete, Get, HttpCode, Post, Put } from '@nestjs/common';
import { z } from 'zod';
import {
  archiveInputSchema,
  trialChangeSchema,
  trialInputSchema,
  trialListQuerySchema,
  type Trial,
  type TrialInput,
  type TrialListItem,
  type TrialListQuery,
  type TrialName,
  type Verdict,
  seenQuerySchema,
  type SeenQuery,
} from '@ebrix/contract';
import { Id, ValidBody, ValidQuery } from '../common/params.js';
import { TrialService } from './trial.service.js';

@Controller('trials')
export class TrialController {
  constructor(private readonly trials: TrialService) {}

  @Get()
  list(@ValidQuery(trialListQuerySchema) query: TrialListQuery): Promise<TrialListItem[]> {
    return this.trials.list(query);
  }

  @Get('names')
  names(): Promise<TrialName[]> {
    return this.trials.names();
  }

  @Get(':id')
  get(@Id() id: string): Promise<Trial> {
    return this.trials.get(id);
  }

  @Get(':id/runs')
  runs(@Id() id: string): ReturnType<TrialService['runsOf']> {
    return this.trials.runsOf(id);
  }

  @Get(':id/verdict')
  verdict(@Id() id: string): Promise<Verdict> {
    return this.trials.verdict(id);
  }

  @Post()
  add(@ValidBody(trialInputSchema) body: TrialInput): Promise<Trial> {
    return this.trials.add(body);
  }

  @Put(':id')
  change(
    @Id() id: string,
    @ValidBody(trialChangeSchema) { version, ...input }: z.output<typeof trialChangeSchema>,
  ): Promise<Trial> {
    return this.trials.change(id, version, input);
  }

  @Put(':id/archive')
  archive(
    @Id() id: string,
    @ValidBody(archiveInputSchema) { version, archived }: z.output<typeof archiveInputSchema>,
  ): Promise<Trial> {
    return this.trials.change(id, version, { archived });
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Id() id: string, @ValidQuery(seenQuerySchema) { version }: SeenQuery): Promise<void> {
    return this.trials.remove(id, version);
  }
}
