import { Controller, Get, Put } from '@nestjs/common';
import type { z } from 'zod';
import { fittingRecordPutSchema, type StoredFittingRecord } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { notFound } from '../common/domain-error.js';
import { Id, ValidBody } from '../common/params.js';
import { FittingRecordRepository } from './fitting-record.repository.js';

/** What is noted around a fitting; kept as written, judged by the core in the page. */
@Controller('setups/:id/fitting-record')
export class FittingRecordController {
  constructor(private readonly records: FittingRecordRepository) {}

  @Get()
  async get(@Id() setupId: string): Promise<StoredFittingRecord> {
    const stored = await this.records.get(setupId);
    if (!stored) throw notFound('This setup');
    return stored;
  }

  @Put()
  async save(
    @Id() setupId: string,
    @ValidBody(fittingRecordPutSchema) { version, record }: z.output<typeof fittingRecordPutSchema>,
  ): Promise<StoredFittingRecord> {
    const before = await this.get(setupId);
    if (!(await this.records.save(setupId, version, record)))
      throw changedMeanwhile(version === before.version ? await this.get(setupId) : before);
    return this.get(setupId);
  }
}
