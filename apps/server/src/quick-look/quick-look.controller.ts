import { Body, Controller, HttpCode, Post, UploadedFile, UploadedFiles, UseInterceptors } from '@nestjs/common';
import { FileInterceptor, FilesInterceptor } from '@nestjs/platform-express';
import {
  FORECAST_FILES,
  quickLookContextSchema,
  quickLookForecastSchema,
  quickLookTableFieldsSchema,
  testKindSchema,
  type ForecastAnswer,
  type Inspection,
  type QuickLookLog,
  type QuickLookTable,
} from '@ebrix/contract';
import { toUploadedLog, UPLOAD_OPTIONS } from '../common/uploads.js';
import { parseJsonField, parseOrRefuse } from '../common/zod.pipe.js';
import { QuickLookService } from './quick-look.service.js';

const FORECAST_FIELD_BYTES = 8 * 1024 * 1024;

@Controller('quick-look')
export class QuickLookController {
  constructor(private readonly quickLook: QuickLookService) {}

  @Post('log')
  @HttpCode(200)
  @UseInterceptors(FileInterceptor('file', UPLOAD_OPTIONS))
  log(
    @UploadedFile() file: Express.Multer.File | undefined,
    @Body() body: Record<string, string | undefined>,
  ): Promise<QuickLookLog> {
    const { bytes } = toUploadedLog(file);
    const test = parseOrRefuse(testKindSchema.default('range'), body['test'] || undefined);
    const context = parseOrRefuse(quickLookContextSchema, parseJsonField('context', body['context']) ?? {});
    return this.quickLook.log(bytes, test, context);
  }

  /** A ride foretold from rides that come with the request; a way may have many points, so the field may be large. */
  @Post('forecast')
  @HttpCode(200)
  @UseInterceptors(
    FilesInterceptor('file', FORECAST_FILES, {
      ...UPLOAD_OPTIONS,
      limits: { ...UPLOAD_OPTIONS.limits, fieldSize: FORECAST_FIELD_BYTES },
    }),
  )
  forecast(
    @UploadedFiles() files: Express.Multer.File[] | undefined,
    @Body() body: Record<string, string | undefined>,
  ): Promise<ForecastAnswer> {
    const request = parseOrRefuse(quickLookForecastSchema, parseJsonField('request', body['request']) ?? {});
    return this.quickLook.forecast((files ?? []).map(toUploadedLog), request);
  }

  @Post('log/columns')
  @HttpCode(200)
  @UseInterceptors(FileInterceptor('file', UPLOAD_OPTIONS))
  logColumns(@UploadedFile() file: Express.Multer.File | undefined): Promise<Inspection> {
    return this.quickLook.inspect(toUploadedLog(file).bytes);
  }

  @Post('table')
  @HttpCode(200)
  @UseInterceptors(FileInterceptor('file', UPLOAD_OPTIONS))
  table(
    @UploadedFile() file: Express.Multer.File | undefined,
    @Body() body: Record<string, string | undefined>,
  ): Promise<QuickLookTable> {
    const { bytes } = toUploadedLog(file);
    const given = Object.fromEntries(Object.entries(body).filter(([, value]) => value !== undefined && value !== ''));
    return this.quickLook.table(bytes, parseOrRefuse(quickLookTableFieldsSchema, given));
  }

  /** Names of the columns, for the page that lets one choose them. */
  @Post('table/columns')
  @HttpCode(200)
  @UseInterceptors(FileInterceptor('file', UPLOAD_OPTIONS))
  columns(
    @UploadedFile() file: Express.Multer.File | undefined,
  ): Promise<{ columns: readonly string[]; rows: number }> {
    return this.quickLook.tableColumns(toUploadedLog(file).bytes);
  }
}
