import { Controller, Get, HttpCode, Inject, Post } from '@nestjs/common';
import type { Knex } from 'knex';
import { DomainError } from '../common/domain-error.js';
import { VERSION } from '../common/config.js';
import { KNEX } from '../database/database.module.js';
import { DemoService } from '../demo/demo.service.js';
import { openApiDocument } from './openapi.js';

@Controller()
export class MetaController {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly demo: DemoService,
  ) {}

  @Get('health')
  async health(): Promise<{ status: 'ok'; database: 'ok'; version: string }> {
    try {
      await this.database.raw('select 1').timeout(3000);
    } catch {
      throw new DomainError('database-unreachable', 'The database does not answer.');
    }
    return { status: 'ok', database: 'ok', version: VERSION };
  }

  @Get('openapi.json')
  openApi(): object {
    return openApiDocument();
  }

  /** Whether anything is stored, and how far the demo data is. */
  @Get('demo')
  demoState(): ReturnType<DemoService['state']> {
    return this.demo.state();
  }

  @Post('demo')
  @HttpCode(202)
  async loadDemo(): Promise<{ started: true }> {
    await this.demo.begin();
    return { started: true };
  }
}
