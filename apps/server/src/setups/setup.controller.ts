import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import { z } from 'zod';
import {
  idSchema,
  newSetupSchema,
  revisionInputSchema,
  setupInputSchema,
  versionSchema,
  type RevisionInput,
  type Setup,
} from '@ebrix/contract';
import { ZodPipe } from '../common/zod.pipe.js';
import { SetupService } from './setup.service.js';

const changeSchema = z.strictObject({ ...setupInputSchema.shape, version: versionSchema });
const archiveSchema = z.strictObject({ version: versionSchema, archived: z.boolean() });

@Controller('setups')
export class SetupController {
  constructor(private readonly setups: SetupService) {}

  @Get()
  list(): Promise<Setup[]> {
    return this.setups.list();
  }

  @Get(':id')
  get(@Param('id', new ZodPipe(idSchema)) id: string): Promise<Setup> {
    return this.setups.get(id);
  }

  @Post()
  add(@Body(new ZodPipe(newSetupSchema)) body: z.output<typeof newSetupSchema>): Promise<Setup> {
    return this.setups.add(body);
  }

  @Post(':id/revisions')
  addRevision(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(revisionInputSchema)) body: RevisionInput,
  ): Promise<Setup> {
    return this.setups.addRevision(id, body);
  }

  @Put(':id')
  change(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(changeSchema)) { version, ...change }: z.output<typeof changeSchema>,
  ): Promise<Setup> {
    return this.setups.change(id, version, change);
  }

  @Put(':id/archive')
  archive(
    @Param('id', new ZodPipe(idSchema)) id: string,
    @Body(new ZodPipe(archiveSchema)) { version, archived }: z.output<typeof archiveSchema>,
  ): Promise<Setup> {
    return this.setups.change(id, version, { archived });
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', new ZodPipe(idSchema)) id: string): Promise<void> {
    return this.setups.remove(id);
  }
}
