import { Injectable } from '@nestjs/common';
import type { z } from 'zod';
import { DECIDING_FIGURES, sortIntoArms } from '@ebrix/core/compare';
import type {
  Trial,
  TrialInput,
  TrialListItem,
  TrialListQuery,
  TrialName,
  trialRunsSchema,
  Verdict,
} from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { notFound } from '../common/domain-error.js';
import { RunRepository } from '../runs/run.repository.js';
import { SetupService } from '../setups/setup.service.js';
import { runsByRevision, TrialRunRepository, type TrialRun } from './trial-run.repository.js';
import { TrialRepository, type StoredTrial } from './trial.repository.js';
import { VerdictService, type PlainComparison } from './verdict.service.js';

const RESAMPLES = 2000;

@Injectable()
export class TrialService {
  constructor(
    private readonly trials: TrialRepository,
    private readonly runs: RunRepository,
    private readonly trialRuns: TrialRunRepository,
    private readonly verdicts: VerdictService,
    private readonly setups: SetupService,
  ) {}

  async list(query: TrialListQuery = {}): Promise<TrialListItem[]> {
    const trials = await this.trials.list(query);
    const runs = await this.runsOfTrials(trials);
    const shown = await this.shown(trials, runs);
    const briefs = await this.verdicts.briefsOn(trials, runs);
    return shown.map((trial, k) => ({ ...trial, ...briefs[k]! }));
  }

  names(): Promise<TrialName[]> {
    return this.trials.names();
  }

  async get(id: string): Promise<Trial> {
    const stored = [await this.stored(id)];
    const [trial] = await this.shown(stored, await this.runsOfTrials(stored));
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

  /** Fails: `changed-meanwhile` where it is not the version that was seen. */
  async remove(id: string, version: number | undefined): Promise<void> {
    if ((await this.trials.delete(id, version)) === 0) throw notFound('This trial');
  }

  /** All runs of its setups on its course, in whatever state, with why some do not count. */
  async runsOf(id: string): Promise<z.output<typeof trialRunsSchema>> {
    const trial = await this.stored(id);
    const { sorted, ofArms } = sortRuns(trial, await this.runsOfTrials([trial]));
    const summaries = await this.runs.summariesOf(ofArms.map((run) => run.id));
    return summaries.map((run) => {
      const apart = sorted.apart.get(run.id) ?? (isOfKind(trial, run) ? undefined : ANOTHER_TEST);
      const ofSetup = trial.setups.findIndex(({ revisionId }) => revisionId === run.setup.revisionId);
      const arm = sorted.armOf.get(run.id) ?? apart?.arm ?? ofSetup;
      return { letter: trial.setups[arm]!.letter, apart: apart?.text ?? null, run };
    });
  }

  async verdict(id: string): Promise<Verdict> {
    return this.verdicts.verdictOn(await this.stored(id), RESAMPLES);
  }

  /** The comparison alone, for what is set beside it: it is no look at the verdict. Null while there is none. */
  async comparisonOf(id: string): Promise<PlainComparison | null> {
    const trial = await this.stored(id);
    return this.verdicts.comparisonOf(trial, await this.runsOfTrials([trial]));
  }

  private async stored(id: string): Promise<StoredTrial> {
    const [trial] = await this.trials.list({ id });
    if (!trial) throw notFound('This trial');
    return trial;
  }

  private runsOfTrials(trials: readonly StoredTrial[]): Promise<TrialRun[]> {
    return this.trialRuns.runsOfTrials(trials);
  }

  /** As the API shows them: without packs, with the gates of each setup and how many of its runs count. */
  private async shown(trials: readonly StoredTrial[], runs: readonly TrialRun[]): Promise<Trial[]> {
    const revisionIds = trials.flatMap(({ setups }) => setups.map(({ revisionId }) => revisionId));
    const clearances = await this.setups.clearances([...new Set(revisionIds)]);
    const runsOf = runsByRevision(runs);
    return trials.map((stored) => {
      const { packIdsOf: _packIdsOf, setups, ...trial } = stored;
      const { sorted, ofArms } = sortRuns(stored, runsOf(stored));
      return {
        ...trial,
        setups: setups.map((setup, arm) => {
          const own = ofArms.filter(({ id }) => sorted.armOf.get(id) === arm);
          return {
            ...setup,
            countedRuns: own.filter(({ isExcluded }) => !isExcluded).length,
            excludedRuns: own.filter(({ isExcluded }) => isExcluded).length,
            openClearance: clearances.get(setup.revisionId)?.openClearance ?? 0,
          };
        }),
      };
    });
  }
}

const ANOTHER_TEST = { text: 'another test than the one that decides', arm: undefined };

function isOfKind({ decidingFigure }: StoredTrial, { testKind }: Pick<TrialRun, 'testKind'>): boolean {
  return DECIDING_FIGURES[decidingFigure].kinds.some((kind) => kind === testKind);
}

/** Runs of a trial on its course; those of the test that decides sorted into its arms. */
function sortRuns(
  trial: StoredTrial,
  runs: readonly TrialRun[],
): { sorted: ReturnType<typeof sortIntoArms>; ofArms: readonly TrialRun[] } {
  const own = new Set(trial.setups.map(({ revisionId }) => revisionId));
  const ofArms = runs.filter(
    ({ revisionId, courseId }) => own.has(revisionId) && (trial.course === null || courseId === trial.course.id),
  );
  return {
    ofArms,
    sorted: sortIntoArms(
      ofArms.filter((run) => isOfKind(trial, run)),
      trial.setups,
      trial.heldRiding,
      { countsSimulated: trial.countsSimulated },
    ),
  };
}
