import { Controller, Delete, Get, HttpCode, Logger, Post, Res, UploadedFile, UseInterceptors } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import type { Response } from 'express';
import type { z } from 'zod';
import { packageQuerySchema, packageTakeSchema, type PackageImported, type PackageLook } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { Id, ValidBody, ValidQuery } from '../common/params.js';
import { PACKAGE_UPLOAD } from '../common/uploads.js';
import { ExportService } from './export.service.js';
import { ImportPackageService } from './import-package.service.js';
import { WorkbookService } from './workbook.service.js';

@Controller('package')
export class DataPackageController {
  private readonly logger = new Logger('data package');

  constructor(
    private readonly exports: ExportService,
    private readonly imports: ImportPackageService,
    private readonly workbooks: WorkbookService,
  ) {}

  @Get()
  async send(
    @ValidQuery(packageQuerySchema) { trial, runs, channels }: z.output<typeof packageQuerySchema>,
    @Res() response: Response,
  ): Promise<void> {
    const write = await this.exports.prepare({
      ...(trial !== undefined && { trialId: trial }),
      ...(runs !== undefined && { runIds: runs }),
      channels,
    });
    response
      .setHeader('Content-Type', 'application/zip')
      .setHeader('Content-Disposition', 'attachment; filename="ebrix-data.zip"');
    try {
      await write(response);
    } catch (error) {
      // A client that leaves has ended it; a fault midway must not look like a whole file, and is told to who runs the server.
      if ((error as { code?: string }).code === 'ERR_STREAM_PREMATURE_CLOSE') return;
      this.logger.error(error instanceof Error ? error.stack : String(error));
      response.destroy();
    }
  }

  /** Runs, figures and comparisons as one spreadsheet. */
  @Get('workbook')
  async workbook(@Res() response: Response): Promise<void> {
    response
      .setHeader('Content-Type', 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet')
      .setHeader('Content-Disposition', 'attachment; filename="ebrix-runs.xlsx"')
      .send(await this.workbooks.workbook());
  }

  @Post()
  @UseInterceptors(FileInterceptor('file', PACKAGE_UPLOAD))
  look(@UploadedFile() file: Express.Multer.File | undefined): Promise<PackageLook> {
    if (!file) throw new DomainError('no-file', 'No file came with the request. Send it in the field "file".');
    return this.imports.look(file.path);
  }

  @Post(':id/import')
  @HttpCode(200)
  takeIn(
    @Id() id: string,
    @ValidBody(packageTakeSchema) { take }: z.output<typeof packageTakeSchema>,
  ): Promise<PackageImported> {
    return this.imports.takeIn(id, take);
  }

  @Delete(':id')
  @HttpCode(204)
  drop(@Id() id: string): Promise<void> {
    return this.imports.drop(id);
  }
}
