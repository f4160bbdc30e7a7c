import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import { z } from 'zod';
import {
  archiveInputSchema,
  idSchema,
  trialInputSchema,
  versioned,
  type Trial,
  type TrialInput,
  type TrialListItem,
  type Verdict,
} from '@ebrix/contract';
import { ZodPipe } from '../common/zod.pipe.js';
import { TrialService } from './trial.service.js';

const changeSchema = versioned(trialInputSchema);

@Controller('trials')
export class TrialController {
  constructor(private readonly trials: TrialService) {}

  @Get()
  list(): Promise<TrialListItem[]> {
    return this.trials.list();
  }

  @Get(':id')
  get(@Param('id', new ZodPipe(idSchema)) id: string): Promise<Trial> {
    return this.trials.get(id);
  }

  @Get(':id/runs')
  runs(@Param('id', new ZodPipe(idSchema)) id: string): ReturnType<TrialService['runsOf']> {
    return this.trials.runsOf(id);
  }

  @Get(':id/verdict')
  verdict(@Param('id', new ZodPipe(idSchema)) id: string): Promise<Verdict> {
    return this.trials.verdict(id);
  }

  @Post()
  add(@Body(new ZodPipe(trialInputSchema)) body: TrialInput): Promise<Trial> {
    return this.trials.add(body);
  }

  @Put(':id')
  change(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(changeSchema)) { version, ...input }: z.output<typeof changeSchema>,
  ): Promise<Trial> {
    return this.trials.change(id, version, input);
  }

  @Put(':id/archive')
  archive(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(archiveInputSchema)) { version, archived }: z.output<typeof archiveInputSchema>,
  ): Promise<Trial> {
    return this.trials.change(id, version, { archived });
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', new ZodPipe(idSchema)) id: string): Promise<void> {
    return this.trials.remove(id);
  }
}
