import { Controller, Post } from '@nestjs/common';
import {
  keepLogsSchema,
  notebookInputSchema,
  type KeepLogs,
  type NotebookAnswer,
  type NotebookInput,
} from '@ebrix/contract';
import { ValidBody } from '../common/params.js';
import { NotebookService } from './notebook.service.js';

@Controller('notebook')
export class NotebookController {
  constructor(private readonly notebook: NotebookService) {}

  @Post()
  store(@ValidBody(notebookInputSchema) body: NotebookInput): Promise<NotebookAnswer> {
    return this.notebook.store(body);
  }

  @Post('logs')
  keep(@ValidBody(keepLogsSchema) body: KeepLogs): Promise<NotebookAnswer> {
    return this.notebook.keepLogs(body);
  }
}
