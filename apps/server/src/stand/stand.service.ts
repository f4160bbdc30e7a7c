import { Injectable } from '@nestjs/common';
import { standFigures, SYMPTOMS } from '@ebrix/core/bench';
import type { z } from 'zod';
import type { Finding, findingInputSchema, StandInput, StandRecord } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { SetupRepository } from '../setups/setup.repository.js';
import { StandRepository, type StoredStand } from './stand.repository.js';

@Injectable()
export class StandService {
  constructor(
    private readonly stands: StandRepository,
    private readonly setups: SetupRepository,
  ) {}

  async list(setupId: string): Promise<StandRecord[]> {
    return (await this.stands.list({ setupId })).map(withFigures);
  }

  async save(revisionId: string, input: StandInput): Promise<StandRecord> {
    if ((await this.setups.findSetupOf(revisionId)) === undefined) throw notFound('This revision');
    const isSaved = await this.stands.save(revisionId, input);
    const [stored] = await this.stands.list({ revisionId });
    const record = withFigures(stored!);
    if (!isSaved) throw changedMeanwhile(record);
    return record;
  }

  findings(setupId: string): Promise<Finding[]> {
    return this.stands.findings(setupId);
  }

  async addFinding(setupId: string, input: z.output<typeof findingInputSchema>): Promise<Finding[]> {
    if ((await this.setups.findSetupOf(input.revisionId)) !== setupId) throw notFound('This revision');
    const symptom = SYMPTOMS.find(({ id }) => id === input.symptom);
    if (!symptom || (input.suspect !== null && !symptom.suspects.some(({ id }) => id === input.suspect)))
      throw new DomainError('invalid-request', 'This symptom or suspect is not on the list.');
    await this.stands.insertFinding(input);
    return this.stands.findings(setupId);
  }

  async removeFinding(setupId: string, id: string): Promise<Finding[]> {
    if ((await this.stands.deleteFinding(setupId, id)) === 0) throw notFound('This finding');
    return this.stands.findings(setupId);
  }
}

function withFigures({ settings, ...record }: StoredStand): StandRecord {
  const figures = standFigures(record.readings, settings.wheelCircumferenceM ?? null);
  return { ...record, figures: structuredClone(figures) as StandRecord['figures'] };
}
