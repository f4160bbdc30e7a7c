import { Controller, Delete, Get, HttpCode, Post, Put } from '@nestjs/common';
import type { z } from 'zod';
import {
  forecastAskSchema,
  keptForecastInputSchema,
  setAgainstRideSchema,
  type ForecastAnswer,
  type ForecastAsk,
  type KeptForecast,
  type KeptForecastInput,
  type SetupCalibration,
  seenQuerySchema,
  type SeenQuery,
} from '@ebrix/contract';
import { Id, ValidBody, ValidQuery } from '../common/params.js';
import { CalibrationService } from './calibration.service.js';
import { KeptForecastService } from './kept-forecast.service.js';

@Controller()
export class ForecastController {
  constructor(
    private readonly calibrations: CalibrationService,
    private readonly kept: KeptForecastService,
  ) {}

  @Get('setups/:id/calibration')
  calibration(@Id() id: string): Promise<SetupCalibration> {
    return this.calibrations.ofSetup(id);
  }

  @Post('forecast')
  @HttpCode(200)
  forecast(@ValidBody(forecastAskSchema) body: ForecastAsk): Promise<ForecastAnswer> {
    return this.calibrations.forecast(body);
  }

  @Get('forecasts')
  list(): Promise<KeptForecast[]> {
    return this.kept.list();
  }

  @Post('forecasts')
  keep(@ValidBody(keptForecastInputSchema) body: KeptForecastInput): Promise<KeptForecast> {
    return this.kept.keep(body);
  }

  @Put('forecasts/:id/ride')
  setAgainst(
    @Id() id: string,
    @ValidBody(setAgainstRideSchema) { version, runId }: z.output<typeof setAgainstRideSchema>,
  ): Promise<KeptForecast> {
    return this.kept.setAgainst(id, version, runId);
  }

  @Delete('forecasts/:id')
  @HttpCode(204)
  remove(@Id() id: string, @ValidQuery(seenQuerySchema) { version }: SeenQuery): Promise<void> {
    return this.kept.remove(id, version);
  }
}
