import { Controller, Delete, Get, HttpCode, Post, UploadedFile, UseInterceptors } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import type { z } from 'zod';
import { metaAnalysis, type MetaAnalysis } from '@ebrix/core/statistics';
import {
  elsewhereInputSchema,
  quickMetaAnalysisSchema,
  type Elsewhere,
  type ElsewhereInput,
  type FoundElsewhere,
} from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { Id, ValidBody } from '../common/params.js';
import { PACKAGE_UPLOAD } from '../common/uploads.js';
import { ElsewhereService } from './elsewhere.service.js';

@Controller()
export class ElsewhereController {
  constructor(private readonly elsewhere: ElsewhereService) {}

  @Get('trials/:id/elsewhere')
  ofTrial(@Id() id: string): Promise<Elsewhere> {
    return this.elsewhere.ofTrial(id);
  }

  @Post('trials/:id/elsewhere')
  add(@Id() id: string, @ValidBody(elsewhereInputSchema) body: ElsewhereInput): Promise<Elsewhere> {
    return this.elsewhere.add(id, body);
  }

  @Delete('elsewhere/:id')
  @HttpCode(204)
  remove(@Id() id: string): Promise<void> {
    return this.elsewhere.remove(id);
  }

  @Post('elsewhere/package')
  @HttpCode(200)
  @UseInterceptors(FileInterceptor('file', PACKAGE_UPLOAD))
  read(@UploadedFile() file: Express.Multer.File | undefined): Promise<FoundElsewhere[]> {
    if (!file) throw new DomainError('no-file', 'No file came with the request. Send it in the field "file".');
    return this.elsewhere.read(file.path);
  }

  @Post('quick-look/meta-analysis')
  @HttpCode(200)
  quick(@ValidBody(quickMetaAnalysisSchema) { studies }: z.output<typeof quickMetaAnalysisSchema>): MetaAnalysis {
    const outcome = metaAnalysis(studies);
    if (!outcome.ok) throw new DomainError('cannot-compute', 'It takes two studies or more.');
    return outcome.value;
  }
}
