import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { Outing, OutingInput } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { notFound } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';
import { AnalysisRequests } from '../jobs/analysis-requests.js';
import { OutingRepository } from './outing.repository.js';

@Injectable()
export class OutingService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly outings: OutingRepository,
    private readonly requests: AnalysisRequests,
  ) {}

  list(): Promise<Outing[]> {
    return this.outings.list();
  }

  async get(id: string): Promise<Outing> {
    const [outing] = await this.outings.list(id);
    if (!outing) throw notFound('This outing');
    return outing;
  }

  async add(input: OutingInput): Promise<Outing> {
    return this.get(await this.outings.insert(input));
  }

  /** The weather goes into the figures of its runs, so they are computed again. */
  async change(id: string, version: number, input: OutingInput): Promise<Outing> {
    const isChanged = await this.database.transaction(async (transaction) => {
      if (!(await this.outings.update(id, version, input, transaction))) return false;
      await this.requests.analyse({ outing_id: id }, transaction);
      return true;
    });
    const current = await this.get(id);
    if (!isChanged) throw changedMeanwhile(current);
    return current;
  }

  /** Fails: `changed-meanwhile` where it is not the version that was seen. */
  async remove(id: string, version: number | undefined): Promise<void> {
    if ((await this.outings.delete(id, version)) === 0) throw notFound('This outing');
  }
}
