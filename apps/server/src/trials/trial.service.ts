import { Injectable } from '@nestjs/common';
import type { RunSummary, Trial, TrialInput, TrialListItem, Verdict } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { notFound } from '../common/domain-error.js';
import { RunRepository } from '../runs/run.repository.js';
import { TrialRepository, type StoredTrial } from './trial.repository.js';
import { VerdictService } from './verdict.service.js';

@Injectable()
export class TrialService {
  constructor(
    private readonly trials: TrialRepository,
    private readonly runs: RunRepository,
    private readonly verdicts: VerdictService,
  ) {}

  async list(): Promise<TrialListItem[]> {
    const trials = await this.trials.list();
    return Promise.all(
      trials.map(async (trial) => {
        const { headline, comparison } = await this.verdicts.verdictOn(trial, { resamples: 0, isBrief: true });
        return {
          ...withoutPacks(trial),
          headline,
          verdictKinds: comparison?.pairs.map(({ verdict }) => verdict) ?? [],
        };
      }),
    );
  }

  async get(id: string): Promise<Trial> {
    return withoutPacks(await this.stored(id));
  }

  async add(input: TrialInput): Promise<Trial> {
    return this.get(await this.trials.insert(input));
  }

  async change(id: string, version: number, change: TrialInput | { archived: boolean }): Promise<Trial> {
    const isChanged = await this.trials.update(id, version, change);
    const current = await this.get(id);
    if (!isChanged) throw changedMeanwhile(current);
    return current;
  }

  async remove(id: string): Promise<void> {
    if ((await this.trials.delete(id)) === 0) throw notFound('This trial');
  }

  async runsOf(id: string): Promise<{ letter: Trial['setups'][number]['letter']; run: RunSummary }[]> {
    const { setups, course } = await this.stored(id);
    const letterOf = new Map(setups.map(({ revisionId, letter }) => [revisionId, letter]));
    const runs = await this.runs.listOfRevisions([...letterOf.keys()], course?.id ?? null);
    return runs.map((run) => ({ letter: letterOf.get(run.setup.revisionId)!, run }));
  }

  async verdict(id: string): Promise<Verdict> {
    return this.verdicts.verdictOn(await this.stored(id), { resamples: 2000, isBrief: false });
  }

  private async stored(id: string): Promise<StoredTrial> {
    const [trial] = await this.trials.list(id);
    if (!trial) throw notFound('This trial');
    return trial;
  }
}

function withoutPacks({ packIdsOf: _packIdsOf, ...trial }: StoredTrial): Trial {
  return trial;
}
