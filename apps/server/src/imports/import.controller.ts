import {
  Controller,
  Delete,
  Get,
  HttpCode,
  Post,
  Sse,
  UploadedFiles,
  UseInterceptors,
  type MessageEvent,
} from '@nestjs/common';
import { FilesInterceptor } from '@nestjs/platform-express';
import { bufferTime, concatMap, filter, from, interval, map, merge, type Observable } from 'rxjs';
import type { z } from 'zod';
import { splitInputSchema, startImportSchema, type ImportFile, type Split, type StartImport } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { toUploadedLog, UPLOAD_OPTIONS } from '../common/uploads.js';
import { Id, ValidBody } from '../common/params.js';
import { ChangeNotifications, CHANGE_CHANNELS } from '../database/change-notifications.js';
import { ImportRepository } from './import.repository.js';
import { ImportService } from './import.service.js';

const HEARTBEAT_MS = 20_000;
const GATHER_MS = 150;

@Controller('imports')
export class ImportController {
  constructor(
    private readonly imports: ImportService,
    private readonly repository: ImportRepository,
    private readonly notifications: ChangeNotifications,
  ) {}

  @Get()
  list(): Promise<ImportFile[]> {
    return this.imports.list();
  }

  /** States of imports as they change; a beat now and then keeps the line open. */
  @Sse('events')
  events(): Observable<MessageEvent> {
    const changes = this.notifications.stream(CHANGE_CHANNELS.import).pipe(
      bufferTime(GATHER_MS),
      filter((ids) => ids.length > 0),
      concatMap((ids) => from(this.repository.list([...new Set(ids)]))),
      map((files): MessageEvent => ({ type: 'imports', data: files })),
    );
    const beat = interval(HEARTBEAT_MS).pipe(map((): MessageEvent => ({ type: 'beat', data: '' })));
    return merge(changes, beat);
  }

  @Post()
  @UseInterceptors(FilesInterceptor('files', UPLOAD_OPTIONS.limits.files, UPLOAD_OPTIONS))
  stage(@UploadedFiles() files: Express.Multer.File[] | undefined): Promise<ImportFile[]> {
    if (!files || files.length === 0)
      throw new DomainError('no-file', 'No file came with the request. Send it in the field "files".');
    return this.imports.stage(files.map(toUploadedLog));
  }

  @Post('start')
  @HttpCode(202)
  start(@ValidBody(startImportSchema) body: StartImport): Promise<ImportFile[]> {
    return this.imports.start(body);
  }

  /** The runs that the log of an outing seems to hold; nothing is made of them before they are confirmed. */
  @Post(':id/split')
  @HttpCode(200)
  split(
    @Id() id: string,
    @ValidBody(splitInputSchema) { mapping, courseId }: z.output<typeof splitInputSchema>,
  ): Promise<Split> {
    return this.imports.split(id, mapping, courseId);
  }

  @Delete(':id')
  @HttpCode(204)
  discard(@Id() id: string): Promise<void> {
    return this.imports.discard(id);
  }
}
