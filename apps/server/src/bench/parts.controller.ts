import {
  Body,
  Controller,
  Delete,
  Get,
  Header,
  HttpCode,
  Param,
  Post,
  Put,
  UploadedFile,
  UseInterceptors,
} from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { z } from 'zod';
import {
  archiveInputSchema,
  idSchema,
  partInputSchemas,
  partKindSchema,
  versionSchema,
  type Part,
  type PartImport,
  type PartKind,
} from '@ebrix/contract';
import { smallTextFile, SMALL_FILE } from '../common/uploads.js';
import { parseOrRefuse, ZodPipe } from '../common/zod.pipe.js';
import { PartsService } from './parts.service.js';

const versioned = z.looseObject({ version: versionSchema });

@Controller('bench/:kind')
export class PartsController {
  constructor(private readonly parts: PartsService) {}

  @Get()
  list(@Param('kind', new ZodPipe(partKindSchema)) kind: PartKind): Promise<Part[]> {
    return this.parts.list(kind);
  }

  @Get('csv')
  @Header('Content-Type', 'text/csv; charset=utf-8')
  csv(@Param('kind', new ZodPipe(partKindSchema)) kind: PartKind): Promise<string> {
    return this.parts.csv(kind);
  }

  @Post('csv')
  @HttpCode(200)
  @UseInterceptors(FileInterceptor('file', SMALL_FILE))
  importCsv(
    @Param('kind', new ZodPipe(partKindSchema)) kind: PartKind,
    @UploadedFile() file: Express.Multer.File | undefined,
  ): Promise<PartImport> {
    return this.parts.importCsv(kind, smallTextFile(file));
  }

  @Post()
  add(@Param('kind', new ZodPipe(partKindSchema)) kind: PartKind, @Body() body: unknown): Promise<Part> {
    return this.parts.add(kind, parseOrRefuse(partInputSchemas[kind], body));
  }

  @Put(':id')
  change(
    @Param('kind', new ZodPipe(partKindSchema)) kind: PartKind,
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(versioned)) { version, ...fields }: z.output<typeof versioned>,
  ): Promise<Part> {
    return this.parts.change(kind, id, version, parseOrRefuse(partInputSchemas[kind], fields));
  }

  @Put(':id/archive')
  archive(
    @Param('kind', new ZodPipe(partKindSchema)) kind: PartKind,
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(archiveInputSchema)) { version, archived }: z.output<typeof archiveInputSchema>,
  ): Promise<Part> {
    return this.parts.change(kind, id, version, { archived });
  }

  @Delete(':id')
  @HttpCode(204)
  remove(
    @Param('kind', new ZodPipe(partKindSchema)) kind: PartKind,
    @Param('id', new ZodPipe(idSchema)) id: string,
  ): Promise<void> {
    return this.parts.remove(kind, id);
  }
}
