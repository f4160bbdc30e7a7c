import {
  Body,
  Controller,
  Delete,
  Get,
  Header,
  HttpCode,
  Post,
  Put,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { z } from 'zod';
import {
  archiveInputSchema,
  partInputSchemas,
  partKindSchema,
  versionSchema,
  type Part,
  type PartImport,
  type PartKind,
  seenQuerySchema,
  type SeenQuery,
} from '@ebrix/contract';
import { smallTextFile, SMALL_FILE } from '../common/uploads.js';
import { Id, ValidBody, ValidParam, ValidQuery } from '../common/params.js';
import { parseOrRefuse } from '../common/zod.pipe.js';
import { PartsService } from './parts.service.js';

const versioned = z.looseObject({ version: versionSchema });

@Controller('bench/:kind')
export class PartsController {
  constructor(private readonly parts: PartsService) {}

  @Get()
  list(@ValidParam('kind', partKindSchema) kind: PartKind): Promise<Part[]> {
    return this.parts.list(kind);
  }

  @Get('csv')
  @Header('Content-Type', 'text/csv; charset=utf-8')
  csv(@ValidParam('kind', partKindSchema) kind: PartKind): Promise<string> {
    return this.parts.csv(kind);
  }

  @Post('csv')
  @HttpCode(200)
  @UseInterceptors(FileInterceptor('file', SMALL_FILE))
  importCsv(
    @ValidParam('kind', partKindSchema) kind: PartKind,
    @UploadedFile() file: Express.Multer.File | undefined,
  ): Promise<PartImport> {
    return this.parts.importCsv(kind, smallTextFile(file));
  }

  @Post()
  add(@ValidParam('kind', partKindSchema) kind: PartKind, @Body() body: unknown): Promise<Part> {
    return this.parts.add(kind, parseOrRefuse(partInputSchemas[kind], body));
  }

  @Put(':id')
  change(
    @ValidParam('kind', partKindSchema) kind: PartKind,
    @Id() id: string,
    @ValidBody(versioned) { version, ...fields }: z.output<typeof versioned>,
  ): Promise<Part> {
    return this.parts.change(kind, id, version, parseOrRefuse(partInputSchemas[kind], fields));
  }

  @Put(':id/archive')
  archive(
    @ValidParam('kind', partKindSchema) kind: PartKind,
    @Id() id: string,
    @ValidBody(archiveInputSchema) { version, archived }: z.output<typeof archiveInputSchema>,
  ): Promise<Part> {
    return this.parts.change(kind, id, version, { archived });
  }

  @Delete(':id')
  @HttpCode(204)
  remove(
    @ValidParam('kind', partKindSchema) kind: PartKind,
    @Id() id: string,
    @ValidQuery(seenQuerySchema) { version }: SeenQuery,
  ): Promise<void> {
    return this.parts.remove(kind, id, version);
  }
}
