import { Injectable } from '@nestjs/common';
import {
  CONDITIONS,
  decidedFirst,
  DECIDING_FIGURES,
  judgeLook,
  nextRideRange,
  riddenRange,
  type ComparisonInput,
  type Look,
} from '@ebrix/core/compare';
import type { TrialListItem, Verdict } from '@ebrix/contract';
import { PagePool } from '../compute/compute-pool.js';
import { RunFigureRepository } from '../runs/run-figure.repository.js';
import { RunRepository } from '../runs/run.repository.js';
import {
  confoundingOf,
  inputOf,
  movedBy,
  prepareFigure,
  type Figures,
  type PreparedFigure,
} from './prepare-verdict.js';
import { conditionsOf, feltOf, SPEED, withMeanSpeed } from './run-conditions.js';
import {
  apartOf,
  apartText,
  figureWords,
  headlineOf,
  lookOf,
  otherAnswer,
  sameVerdicts,
  saysMore,
  slopesDifferP,
  type Compared,
} from './tell-verdict.js';
import { ComparisonMemory } from './comparison-memory.js';
import { runsByRevision, TrialRunRepository, type TrialRun } from './trial-run.repository.js';
import type { StoredTrial } from './trial.repository.js';

const RANGE_REASONS = {
  'too-few': 'needs two runs with a range; the pack must be known',
  'not-positive': 'a run used no energy, so its range has no end',
} as const;
/** Beside the deciding one, a figure's smallest difference is a share like that which matters for it. */
const FURTHER_SHARE = 0.05;
const AT_REFERENCE = 'netConsumptionAtReference';
const FELT = 'perceivedEffort';

export interface VerdictBrief {
  readonly headline: string;
  readonly leading: TrialListItem['leading'];
  readonly isSoFar: boolean;
  readonly verdictKinds: TrialListItem['verdictKinds'];
}

/** What a trial's runs say, and the share of false alarms that its intervals are made for: less than 0.05 before the last look. */
export interface PlainComparison {
  readonly comparison: NonNullable<Verdict['comparison']>;
  readonly level: number;
}

@Injectable()
export class VerdictService {
  constructor(
    private readonly runs: RunRepository,
    private readonly trialRuns: TrialRunRepository,
    private readonly figures: RunFigureRepository,
    private readonly pool: PagePool,
    private readonly memory: ComparisonMemory,
  ) {}

  /** What a list shows of each trial: one look at the runs and one task for all of them, however many there are. */
  async briefsOn(trials: readonly StoredTrial[], runs: readonly TrialRun[]): Promise<VerdictBrief[]> {
    const figures = await this.figuresOf(runs, [...trials.map(({ decidingFigure }) => decidingFigure), SPEED]);
    const runsOf = runsByRevision(runs);
    const prepared = trials.map((trial) => {
      const withSpeed = runsOf(trial).map((run) => withMeanSpeed(run, trial.decidingFigure, figures));
      return prepareFigure(trial, trial.decidingFigure, withSpeed, figures);
    });
    const looks = await this.looksOf(trials, prepared);
    const inputs = trials.map((trial, k) =>
      inputOf(trial, prepared[k]!, { resamples: 0, isBrief: true, look: looks[k]! }),
    );
    const outcomes = await this.memory.compareAll(inputs);
    return outcomes.map((outcome, k) => {
      const open = prepared[k]!.sorted.open;
      if (open) return { headline: open.text, leading: null, isSoFar: false, verdictKinds: [] };
      return {
        headline: outcome.ok ? headlineOf(outcome.value) : `${outcome.message}${apartText(prepared[k]!.sorted.apart)}`,
        leading: (outcome.ok && decidedFirst(outcome.value.pairs)[0]) || null,
        isSoFar: !looks[k]!.isLast,
        verdictKinds: outcome.ok ? outcome.value.pairs.map(({ verdict }) => verdict) : [],
      };
    });
  }

  /** What the runs of one trial say, without remembering that somebody looked. */
  async comparisonOf(trial: StoredTrial, runs: readonly TrialRun[]): Promise<PlainComparison | null> {
    const figures = await this.figuresOf(runs, [trial.decidingFigure, SPEED]);
    const withSpeed = runs.map((run) => withMeanSpeed(run, trial.decidingFigure, figures));
    const prepared = prepareFigure(trial, trial.decidingFigure, withSpeed, figures);
    if (prepared.sorted.open) return null;
    const [look] = await this.looksOf([trial], [prepared]);
    const [outcome] = await this.memory.compareAll([
      inputOf(trial, prepared, { resamples: 0, isBrief: true, look: look! }),
    ]);
    return outcome?.ok ? { comparison: outcome.value, level: look!.level } : null;
  }

  async verdictOn(trial: StoredTrial, resamples: number): Promise<Verdict> {
    const runs = await this.trialRuns.runsOfTrials([trial]);
    const keys = [trial.decidingFigure, ...trial.furtherFigures, SPEED, AT_REFERENCE];
    const figures = await this.figuresOf(runs, keys);
    const withSpeed = runs.map((run) => withMeanSpeed(run, trial.decidingFigure, figures));
    const prepared = prepareFigure(trial, trial.decidingFigure, withSpeed, figures);
    const [look] = await this.looksOf([trial], [prepared]);
    const { open, apart } = prepared.sorted;
    const main = inputOf(trial, prepared, { resamples, look: look! });
    const hasExcluded = prepared.measured.some(({ run }) => run.isExcluded);
    const conditions = conditionsOf(prepared);
    const others = trial.furtherFigures.map((key) => prepareFigure(trial, key, withSpeed, figures));
    const reference =
      trial.decidingFigure === 'netConsumption' ? prepareFigure(trial, AT_REFERENCE, withSpeed, figures) : undefined;
    const further = {
      smallestDifference: { kind: 'relative', value: FURTHER_SHARE },
      resamples: 0,
      isBrief: true,
    } as const;
    const [outcome, whole, ...answers] = await this.compareAll([
      main,
      inputOf(trial, prepared, { resamples: 0, isBrief: true, withExcluded: true, look: look! }),
      ...conditions.map((key) =>
        inputOf(trial, prepared, { resamples: 0, isBrief: true, look: look!, covariate: (run) => run.conditions[key] }),
      ),
      ...others.map((one) => inputOf(trial, one, further)),
      ...(reference ? [inputOf(trial, reference, { resamples: 0, isBrief: true, look: look! })] : []),
    ]);
    const compared = open ? undefined : outcome!;
    // A list that refreshes while files come in is not looked at trial by trial, and no verdict is no look: one that was shown is.
    if (compared?.ok) await this.trialRuns.rememberLook(trial.id, prepared.counted.length);
    const reason = open ? open.text : outcome!.ok ? null : `${outcome!.message}${apartText(apart)}`;
    const letterOf = (arm: number | undefined): Verdict['points'][number]['letter'] => trial.setups[arm ?? 0]!.letter;
    return {
      figure: figureWords(trial.decidingFigure),
      points: prepared.measured.map(({ run, figure }) => ({
        runId: run.id,
        letter: letterOf(prepared.sorted.armOf.get(run.id) ?? apart.get(run.id)?.arm),
        value: figure.value,
        standardUncertainty: figure.standardUncertainty,
        isExcluded: run.isExcluded,
        apart: apartOf(prepared, run),
        outing: run.outing.title || run.outing.date,
      })),
      comparison: compared?.ok ? compared.value : null,
      reason,
      headline: compared?.ok ? headlineOf(compared.value) : reason!,
      withExcluded:
        hasExcluded && whole!.ok && compared?.ok
          ? {
              pairs: whole!.value.pairs,
              sentences: [...whole!.value.sentences],
              isSame: sameVerdicts(whole!.value, compared.value),
            }
          : null,
      runsWithoutFigure: prepared.ofKind.length - prepared.measured.length,
      ranges: await this.rangesOf(trial, withSpeed),
      open: open ? { field: open.field, found: [...open.found], text: open.text } : null,
      confounded: confoundingOf(trial, prepared)
        .filter(
          ({ because }) => compared?.ok && compared.value.pairs.some(({ refusal }) => refusal?.because === because),
        )
        .map(({ a, b, key }) => ({ a, b, key })),
      look: prepared.counted.length > 0 ? lookOf(look!, prepared.counted.length) : null,
      adjusted: conditions.flatMap((key, k) =>
        saysMore(answers[k]!)
          ? [
              {
                key,
                ...otherAnswer(CONDITIONS[key].label, answers[k]!),
                slopesDifferP: slopesDifferP(answers[k]!),
              },
            ]
          : [],
      ),
      further: others.map(({ key }, k) => ({
        figure: figureWords(key),
        smallestDifference: further.smallestDifference,
        ...otherAnswer(DECIDING_FIGURES[key].label, answers[conditions.length + k]!),
      })),
      atReference:
        reference && saysMore(answers.at(-1)!)
          ? {
              ...otherAnswer('at reference conditions', answers.at(-1)!),
              moved: movedBy(prepared, reference).map(({ arm, factor }) => ({ letter: letterOf(arm), factor })),
            }
          : null,
    };
  }

  private async compareAll(inputs: readonly ComparisonInput[]): Promise<readonly Compared[]> {
    return this.pool.run('compareAll', inputs);
  }

  /** This look at each trial, judged by those before it and its plan. */
  private async looksOf(trials: readonly StoredTrial[], prepared: readonly PreparedFigure[]): Promise<Look[]> {
    const ids = trials.map(({ id }) => id);
    const [earlier, planned] = await Promise.all([this.trialRuns.looksAt(ids), this.trialRuns.plannedRuns(ids)]);
    const counts = prepared.map(({ counted }) => counted.length);
    return trials.map((trial, k) => {
      const { kinds } = DECIDING_FIGURES[trial.decidingFigure];
      const ofFigure = (planned.get(trial.id) ?? []).filter(
        ({ testKind, courseId }) =>
          kinds.some((kind) => kind === testKind) && (trial.course === null || trial.course.id === courseId),
      );
      return judgeLook(counts[k]!, earlier.get(trial.id) ?? [], ofFigure.length > 0 ? ofFigure.length : undefined);
    });
  }

  /** The next ride of each setup, and its rides until empty, from the runs that count. */
  private async rangesOf(trial: StoredTrial, runs: readonly TrialRun[]): Promise<Verdict['ranges']> {
    const ids = runs.filter(({ testKind }) => testKind === 'range').map(({ id }) => id);
    const [ranges, distances, emptied] = await Promise.all([
      this.figures.of(ids, 'rangeWithReserve'),
      this.figures.of(ids, 'distance'),
      this.runs.emptiedOf(ids),
    ]);
    const { counted, sorted } = prepareFigure(
      { ...trial, decidingFigure: 'rangeWithReserve' },
      'rangeWithReserve',
      runs,
      new Map([['rangeWithReserve', ranges]]),
    );
    const whole = prepareFigure(trial, 'rangeWithReserve', runs, new Map([['rangeWithReserve', distances]]));
    return trial.setups.map(({ letter }, arm) => {
      const known = counted.filter(({ run }) => sorted.armOf.get(run.id) === arm).map(({ figure }) => figure);
      const share = Math.max(0, ...known.map(({ systematic, value }) => systematic / value));
      const next = nextRideRange(
        known.map(({ value }) => value),
        share,
      );
      const ridden = riddenRange(
        whole.counted
          .filter(({ run, figure }) => whole.sorted.armOf.get(run.id) === arm && figure.value > 0)
          .map(({ run, figure }) => ({ distance: figure.value, emptied: emptied.has(run.id) })),
      );
      return {
        letter,
        nextRide: next.ok ? next.value : null,
        reason: next.ok ? null : RANGE_REASONS[next.reason],
        riddenToEmpty: ridden.ok ? ridden.value : null,
      };
    });
  }

  private async figuresOf(runs: readonly TrialRun[], keys: readonly string[]): Promise<Figures> {
    const ids = runs.map(({ id }) => id);
    return new Map(
      await Promise.all(
        [...new Set(keys)].map(
          async (key) => [key, key === FELT ? feltOf(runs) : await this.figures.of(ids, key)] as const,
        ),
      ),
    );
  }
}
