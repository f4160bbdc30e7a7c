import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Controller, Delete, Get, Header, HttpCode, Post, StreamableFile } from '@nestjs/common';
import { backupNameSchema, type Backup, type BackupList, type Load, type TrashEntry } from '@ebrix/contract';
import { notFound } from '../common/domain-error.js';
import { Id, ValidParam } from '../common/params.js';
import { BackupService } from './backup.service.js';
import { LoadService } from './load.service.js';
import { TrashRepository } from './trash.repository.js';

@Controller('upkeep')
export class UpkeepController {
  constructor(
    private readonly backups: BackupService,
    private readonly trash: TrashRepository,
    private readonly load: LoadService,
  ) {}

  @Get('load')
  look(): Promise<Load> {
    return this.load.look();
  }

  @Get('backups')
  list(): Promise<BackupList> {
    return this.backups.list();
  }

  @Post('backups')
  make(): Promise<Backup> {
    return this.backups.make('by hand');
  }

  @Get('trash')
  listTrash(): Promise<TrashEntry[]> {
    return this.trash.list();
  }

  @Post('trash/:id/restore')
  @HttpCode(204)
  async bringBack(@Id() id: string): Promise<void> {
    if (!(await this.trash.bringBack(id))) throw notFound('This');
  }

  @Delete('trash/:id')
  @HttpCode(204)
  async drop(@Id() id: string): Promise<void> {
    if (!(await this.trash.drop(id))) throw notFound('This');
  }

  @Get('backups/:name')
  @Header('Content-Type', 'application/octet-stream')
  async file(@ValidParam('name', backupNameSchema) name: string): Promise<StreamableFile> {
    const file = this.backups.fileOf(name);
    const found = await stat(file).catch(() => undefined);
    if (!found) throw notFound('This backup');
    return new StreamableFile(createReadStream(file), {
      disposition: `attachment; filename="${name}"`,
      length: found.size,
    });
  }
}
