import { Injectable } from '@nestjs/common';
import type { Outing, OutingInput } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { notFound } from '../common/domain-error.js';
import { RunAnalysisQueue } from '../imports/run-analysis.queue.js';
import { OutingRepository } from './outing.repository.js';

@Injectable()
export class OutingService {
  constructor(
    private readonly outings: OutingRepository,
    private readonly queue: RunAnalysisQueue,
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
    const isChanged = await this.outings.update(id, version, input);
    const current = await this.get(id);
    if (!isChanged) throw changedMeanwhile(current);
    await this.queue.enqueueRunsOfOuting(id);
    return current;
  }

  async remove(id: string): Promise<void> {
    if ((await this.outings.delete(id)) === 0) throw notFound('This outing');
  }
}
