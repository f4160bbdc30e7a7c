import { Controller, HttpCode, Post } from '@nestjs/common';
import { Id } from '../common/params.js';
import { LoggerSecrets } from './logger-secrets.js';

@Controller('bench/loggers/:id/secret')
export class LoggerSecretController {
  constructor(private readonly secrets: LoggerSecrets) {}

  @Post()
  @HttpCode(200)
  async renew(@Id() id: string): Promise<{ secret: string }> {
    return { secret: await this.secrets.renew(id) };
  }
}
