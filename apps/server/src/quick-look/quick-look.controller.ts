import { Body, Controller, HttpCode, Post, UploadedFile, UseInterceptors } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import {
  quickLookContextSchema,
  quickLookTableFieldsSchema,
  testKindSchema,
  type Inspection,
  type QuickLookLog,
  type QuickLookTable,
} from '@ebrix/contract';
import { toUploadedLog, UPLOAD_OPTIONS } from '../common/uploads.js';
import { parseJsonField, parseOrRefuse } from '../common/zod.pipe.js';
import { QuickLookService } from './quick-look.service.js';

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
