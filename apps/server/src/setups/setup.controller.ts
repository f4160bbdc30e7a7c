import { Controller, Delete, Get, HttpCode, Post, Put, UploadedFile, UseInterceptors } from '@nestjs/common';
import { FileInterceptor } from '@nestjs/platform-express';
import { z } from 'zod';
import {
  archiveInputSchema,
  markInputSchema,
  nameSchema,
  newSetupSchema,
  revisionInputSchema,
  setupFileSchema,
  setupInputSchema,
  thumbRulesPutSchema,
  unmarkSchema,
  versioned,
  type MarkInput,
  type RevisionInput,
  type Setup,
  type SetupDetail,
  type SetupFile,
  type ThumbRules,
  type Unmark,
  seenQuerySchema,
  type SeenQuery,
} from '@ebrix/contract';
import { smallTextFile, SMALL_FILE } from '../common/uploads.js';
import { Id, ValidBody, ValidQuery } from '../common/params.js';
import { SetupFileService } from './setup-file.service.js';
import { ThumbRuleRepository } from './thumb-rule.repository.js';
import { SetupService } from './setup.service.js';

const changeSchema = versioned(setupInputSchema);
const copySchema = z.strictObject({ name: nameSchema });
@Controller()
export class SetupController {
  constructor(
    private readonly setups: SetupService,
    private readonly files: SetupFileService,
    private readonly thumbRules: ThumbRuleRepository,
  ) {}

  @Get('setups')
  list(): Promise<Setup[]> {
    return this.setups.list();
  }

  @Get('setups/:id')
  get(@Id() setupId: string): Promise<SetupDetail> {
    return this.setups.get(setupId);
  }

  @Post('setups')
  add(@ValidBody(newSetupSchema) body: z.output<typeof newSetupSchema>): Promise<SetupDetail> {
    return this.setups.add(body);
  }

  @Post('setups/file')
  @UseInterceptors(FileInterceptor('file', SMALL_FILE))
  importFile(@UploadedFile() file: Express.Multer.File | undefined): Promise<SetupDetail> {
    return this.files.import(smallTextFile(file));
  }

  @Get('setups/:id/file')
  exportFile(@Id() setupId: string): Promise<SetupFile> {
    return this.files.export(setupId);
  }

  @Get('schemas/setup.json')
  schema(): object {
    return z.toJSONSchema(setupFileSchema, { io: 'input', unrepresentable: 'any' });
  }

  @Get('thumb-rules')
  listThumbRules(): Promise<ThumbRules> {
    return this.thumbRules.get();
  }

  @Put('thumb-rules')
  async setThumbRules(@ValidBody(thumbRulesPutSchema) body: z.output<typeof thumbRulesPutSchema>): Promise<ThumbRules> {
    if (Array.isArray(body)) await this.thumbRules.set(body);
    else await this.thumbRules.set(body.rules, body.seen);
    return this.thumbRules.get();
  }

  @Post('setups/:id/copy')
  copy(@Id() setupId: string, @ValidBody(copySchema) { name }: z.output<typeof copySchema>): Promise<SetupDetail> {
    return this.setups.copy(setupId, name);
  }

  @Post('setups/:id/revisions')
  addRevision(@Id() setupId: string, @ValidBody(revisionInputSchema) body: RevisionInput): Promise<SetupDetail> {
    return this.setups.addRevision(setupId, body);
  }

  @Put('setups/:id')
  change(
    @Id() setupId: string,
    @ValidBody(changeSchema) { version, ...change }: z.output<typeof changeSchema>,
  ): Promise<SetupDetail> {
    return this.setups.change(setupId, version, change);
  }

  @Put('setups/:id/archive')
  archive(
    @Id() setupId: string,
    @ValidBody(archiveInputSchema) { version, archived }: z.output<typeof archiveInputSchema>,
  ): Promise<SetupDetail> {
    return this.setups.change(setupId, version, { archived });
  }

  @Delete('setups/:id')
  @HttpCode(204)
  remove(@Id() setupId: string, @ValidQuery(seenQuerySchema) { version }: SeenQuery): Promise<void> {
    return this.setups.remove(setupId, version);
  }

  @Post('revisions/:id/marks')
  @HttpCode(200)
  mark(@Id() revisionId: string, @ValidBody(markInputSchema) body: MarkInput): Promise<SetupDetail> {
    return this.setups.mark(revisionId, body);
  }

  @Post('revisions/:id/unmark')
  @HttpCode(200)
  unmark(@Id() revisionId: string, @ValidBody(unmarkSchema) body: Unmark): Promise<SetupDetail> {
    return this.setups.unmark(revisionId, body);
  }
}
