import { Injectable } from '@nestjs/common';
import type { RunSummary, Trial, TrialInput, TrialListItem, Verdict } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { notFound } from '../common/domain-error.js';
import { RunRepository } from '../runs/run.repository.js';
import { SetupService } from '../setups/setup.service.js';
import { TrialRepository, type StoredTrial } from './trial.repository.js';
import { VerdictService } from './verdict.service.js';

const RESAMPLES = 2000;

@Injectable()
export class TrialService {
  constructor(
    private readonly trials: TrialRepository,
    private readonly runs: RunRepository,
    private readonly verdicts: VerdictService,
    private readonly setups: SetupService,
  ) {}

  async list(): Promise<TrialListItem[]> {
    const trials = await this.trials.list();
    const shown = await this.withClearance(trials);
    const briefs = await this.verdicts.briefsOn(trials);
    return shown.map((trial, k) => ({ ...trial, ...briefs[k]! }));
  }

  async get(id: string): Promise<Trial> {
    const [trial] = await this.withClearance([await this.stored(id)]);
    return trial!;
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
    return this.verdicts.verdictOn(await this.stored(id), RESAMPLES);
  }

  private async stored(id: string): Promise<StoredTrial> {
    const [trial] = await this.trials.list(id);
    if (!trial) throw notFound('This trial');
    return trial;
  }

  /** As the API shows them: without packs, with the gates of each setup. */
  private async withClearance(trials: readonly StoredTrial[]): Promise<Trial[]> {
    const revisionIds = trials.flatMap(({ setups }) => setups.map(({ revisionId }) => revisionId));
    const clearances = await this.setups.clearances([...new Set(revisionIds)]);
    return trials.map(({ packIdsOf: _packIdsOf, setups, ...trial }) => ({
      ...trial,
      setups: setups.map((setup) => ({
        ...setup,
        openClearance: clearances.get(setup.revisionId)?.openClearance ?? 0,
      })),
    }));
  }
}
