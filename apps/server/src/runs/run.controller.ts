import { Controller, Delete, Get, HttpCode, Post, Put, Res } from '@nestjs/common';
import type { Response } from 'express';
import { z } from 'zod';
import {
  correctionInputSchema,
  exclusionInputSchema,
  ridingChangeSchema,
  runChangeSchema,
  runIdsSchema,
  runQuerySchema,
  splitRunQuerySchema,
  splitRunSchema,
  stripQuerySchema,
  versionQuerySchema,
  type CorrectionInput,
  type LearnedReadings,
  type RepeatedFigure,
  type RidingChange,
  type RunDetail,
  type RunListPage,
  type RunQuery,
  type Split,
  type SplitRun,
  type Strip,
} from '@ebrix/contract';
import { Id, ValidBody, ValidQuery } from '../common/params.js';
import { sendCsv } from '../common/send-csv.js';
import { RunContextService } from './run-context.service.js';
import { RunExportService } from './run-export.service.js';
import { RunService } from './run.service.js';

@Controller()
export class RunController {
  constructor(
    private readonly runs: RunService,
    private readonly exports: RunExportService,
    private readonly contexts: RunContextService,
  ) {}

  @Get('runs')
  list(@ValidQuery(runQuerySchema) query: RunQuery): Promise<RunListPage> {
    return this.runs.list(query);
  }

  @Get('runs.csv')
  async csv(@ValidQuery(runQuerySchema) query: RunQuery, @Res() response: Response): Promise<void> {
    await sendCsv(response, 'runs.csv', await this.exports.runs(query));
  }

  /** Figures of a setup over all its counted runs. */
  @Get('setups/:id/figures')
  figuresOfSetup(@Id() id: string): Promise<RepeatedFigure[]> {
    return this.runs.figuresOfSetup(id);
  }

  @Get('setups/:id/learned')
  learnedOfSetup(@Id() id: string): Promise<LearnedReadings> {
    return this.contexts.learnedOfSetup(id);
  }

  @Get('runs/:id')
  get(@Id() id: string): Promise<RunDetail> {
    return this.runs.get(id);
  }

  @Get('runs/:id/strip')
  strip(
    @Id() id: string,
    @ValidQuery(stripQuerySchema) { bins, fromS, toS }: z.output<typeof stripQuerySchema>,
  ): Promise<Strip> {
    return this.runs.strip(id, bins, fromS, toS);
  }

  /** The log as it came, never shown by the browser, only saved. */
  @Get('runs/:id/file')
  async file(@Id() id: string, @Res() response: Response): Promise<void> {
    const { fileName, bytes } = await this.runs.file(id);
    response
      .setHeader('Content-Type', 'application/octet-stream')
      .setHeader('Content-Disposition', `attachment; filename*=UTF-8''${encodeURIComponent(fileName)}`)
      .end(bytes);
  }

  @Get('runs/:id/channels.csv')
  async channels(@Id() id: string, @Res() response: Response): Promise<void> {
    await sendCsv(response, 'channels.csv', await this.exports.channels(id));
  }

  @Post('runs/riding')
  @HttpCode(200)
  changeRiding(@ValidBody(ridingChangeSchema) change: RidingChange): Promise<{ changed: number }> {
    return this.runs.changeRiding(change);
  }

  @Post('runs/delete')
  @HttpCode(200)
  delete(@ValidBody(runIdsSchema) { runIds }: z.output<typeof runIdsSchema>): Promise<{ changed: number }> {
    return this.runs.delete(runIds);
  }

  @Post('runs/restore')
  @HttpCode(200)
  restore(@ValidBody(runIdsSchema) { runIds }: z.output<typeof runIdsSchema>): Promise<{ changed: number }> {
    return this.runs.restore(runIds);
  }

  @Get('runs/:id/split')
  proposeSplit(
    @Id() id: string,
    @ValidQuery(splitRunQuerySchema) { course }: z.output<typeof splitRunQuerySchema>,
  ): Promise<Split> {
    return this.runs.proposeSplit(id, course ?? null);
  }

  @Post('runs/:id/split')
  @HttpCode(200)
  split(@Id() id: string, @ValidBody(splitRunSchema) split: SplitRun): Promise<{ runIds: string[] }> {
    return this.runs.split(id, split);
  }

  @Put('runs/:id')
  assign(
    @Id() id: string,
    @ValidBody(runChangeSchema) { version, assignment }: z.output<typeof runChangeSchema>,
  ): Promise<RunDetail> {
    return this.runs.assign(id, version, assignment);
  }

  @Put('runs/:id/spans')
  correct(@Id() id: string, @ValidBody(correctionInputSchema) correction: CorrectionInput): Promise<RunDetail> {
    return this.runs.correct(id, correction);
  }

  @Delete('runs/:id/spans')
  undoCorrection(
    @Id() id: string,
    @ValidQuery(versionQuerySchema) { version }: z.output<typeof versionQuerySchema>,
  ): Promise<RunDetail> {
    return this.runs.undoCorrection(id, version);
  }

  @Post('runs/:id/exclusion')
  exclude(
    @Id() id: string,
    @ValidBody(exclusionInputSchema) { version, reason }: z.output<typeof exclusionInputSchema>,
  ): Promise<RunDetail> {
    return this.runs.exclude(id, version, reason);
  }

  @Delete('runs/:id/exclusion')
  include(
    @Id() id: string,
    @ValidQuery(versionQuerySchema) { version }: z.output<typeof versionQuerySchema>,
  ): Promise<RunDetail> {
    return this.runs.include(id, version);
  }
}
