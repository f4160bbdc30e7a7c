import { Controller, Post } from '@nestjs/common';
import { notebookInputSchema, type NotebookAnswer, type NotebookInput } from '@ebrix/contract';
import { ValidBody } from '../common/params.js';
import { NotebookService } from './notebook.service.js';

@Controller('notebook')
export class NotebookController {
  constructor(private readonly notebook: NotebookService) {}

  @Post()
  store(@ValidBody(notebookInputSchema) body: NotebookInput): Promise<NotebookAnswer> {
    return this.notebook.store(body);
  }
}
