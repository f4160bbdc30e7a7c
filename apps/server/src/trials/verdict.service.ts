import { Injectable } from '@nestjs/common';
import {
  decidedFirst,
  DECIDING_FIGURES,
  figureVocabulary,
  nextRideRange,
  riddenRange,
  type Comparison,
  type ComparisonInput,
  type SetupRuns,
} from '@ebrix/core/compare';
import type { RunSummary, TrialListItem, Verdict } from '@ebrix/contract';
import { PagePool } from '../compute/compute-pool.js';
import { RunFigureRepository } from '../runs/run-figure.repository.js';
import { RunRepository } from '../runs/run.repository.js';
import type { StoredTrial } from './trial.repository.js';

/** Same runs, same answer: the resampling of a trial always starts from this seed. */
const SEED = 20_261;

const RANGE_REASONS = {
  'too-few': 'needs two runs with a range; the pack must be known',
  'not-positive': 'a run used no energy, so its range has no end',
} as const;

interface Measured {
  readonly run: RunSummary;
  readonly value: number;
  readonly standardUncertainty: number;
  readonly systematic: number;
  /** Null where the logger is not known. */
  readonly instrument: string | null;
}

/** Figures by key and run, and which logger recorded each run. */
interface Measurements {
  readonly loggers: ReadonlyMap<string, string | null>;
  readonly figures: ReadonlyMap<string, Awaited<ReturnType<RunFigureRepository['of']>>>;
}
type Compared = { readonly ok: true; readonly value: Comparison } | { readonly ok: false; readonly message: string };
export interface VerdictBrief {
  readonly headline: string;
  readonly leading: TrialListItem['leading'];
  readonly verdictKinds: TrialListItem['verdictKinds'];
}

@Injectable()
export class VerdictService {
  constructor(
    private readonly runs: RunRepository,
    private readonly figures: RunFigureRepository,
    private readonly pool: PagePool,
  ) {}

  /** What a list shows of each trial: one look at the runs and one task for all of them, however many there are. */
  async briefsOn(trials: readonly StoredTrial[]): Promise<VerdictBrief[]> {
    const revisionIds = trials.flatMap(({ setups }) => setups.map(({ revisionId }) => revisionId));
    const runs = await this.runs.listOfRevisions([...new Set(revisionIds)], null);
    const counted = runs.filter(({ exclusion }) => exclusion === null);
    const known = await this.measurementsOf(
      counted,
      trials.map(({ decidingFigure }) => decidingFigure),
    );
    const inputs = trials.map((trial) => {
      const own = new Set(trial.setups.map(({ revisionId }) => revisionId));
      const ridden = counted.filter(
        ({ setup, course }) => own.has(setup.revisionId) && (!trial.course || course.id === trial.course.id),
      );
      return inputOf(trial, measured(trial, ridden, known), 0);
    });
    const outcomes = await this.pool.run('compareAll', inputs);
    return outcomes.map((outcome) => ({
      headline: outcome.ok ? headlineOf(outcome.value) : outcome.message,
      leading: (outcome.ok && decidedFirst(outcome.value.pairs)[0]) || null,
      verdictKinds: outcome.ok ? outcome.value.pairs.map(({ verdict }) => verdict) : [],
    }));
  }

  async verdictOn(trial: StoredTrial, resamples: number): Promise<Verdict> {
    const { label, unit, better } = DECIDING_FIGURES[trial.decidingFigure];
    const figure = { key: trial.decidingFigure, label, unit, better };
    const all = await this.runs.listOfRevisions(
      trial.setups.map(({ revisionId }) => revisionId),
      trial.course?.id ?? null,
    );
    const measurements = measured(trial, all, await this.measurementsOf(all, [trial.decidingFigure]));
    const { kinds } = DECIDING_FIGURES[trial.decidingFigure];
    const ofKind = all.filter(({ testKind }) => kinds.some((kind) => kind === testKind));
    const counted = measurements.filter(({ run }) => !run.exclusion);
    const letterOf = new Map(trial.setups.map(({ revisionId, letter }) => [revisionId, letter]));
    const outcome = await this.compare(trial, counted, resamples);
    const hasExcluded = measurements.length > counted.length;
    const whole = hasExcluded ? await this.compare(trial, measurements, 0) : undefined;
    return {
      figure,
      points: measurements.map(({ run, value, standardUncertainty }) => ({
        runId: run.id,
        letter: letterOf.get(run.setup.revisionId)!,
        value,
        standardUncertainty,
        isExcluded: run.exclusion !== null,
        outing: run.outing.title || run.outing.date,
      })),
      comparison: outcome.ok ? outcome.value : null,
      reason: outcome.ok ? null : outcome.message,
      headline: outcome.ok ? headlineOf(outcome.value) : outcome.message,
      withExcluded:
        whole?.ok && outcome.ok
          ? {
              pairs: whole.value.pairs,
              sentences: [...whole.value.sentences],
              isSame: sameVerdicts(whole.value, outcome.value),
            }
          : null,
      runsWithoutFigure: ofKind.length - measurements.length,
      ranges: await this.rangesOf(
        trial,
        all.filter(({ exclusion, testKind }) => exclusion === null && testKind === 'range'),
      ),
    };
  }

  private async compare(trial: StoredTrial, counted: readonly Measured[], resamples: number): Promise<Compared> {
    const [outcome] = await this.pool.run('compareAll', [inputOf(trial, counted, resamples)]);
    return outcome!;
  }

  /** The next ride of each setup, and its rides until empty, from the runs that count. */
  private async rangesOf(trial: StoredTrial, counted: readonly RunSummary[]): Promise<Verdict['ranges']> {
    const ids = counted.map(({ id }) => id);
    const [ranges, distances, emptied] = await Promise.all([
      this.figures.of(ids, 'rangeWithReserve'),
      this.figures.of(ids, 'distance'),
      this.runs.emptiedOf(ids),
    ]);
    return trial.setups.map(({ letter, revisionId }) => {
      const own = counted.filter(({ setup }) => setup.revisionId === revisionId);
      const known = own.flatMap(({ id }) => ranges.get(id) ?? []);
      const share = Math.max(0, ...known.map(({ systematic, value }) => systematic / value));
      const next = nextRideRange(
        known.map(({ value }) => value),
        share,
      );
      const ridden = riddenRange(
        own.flatMap(({ id }) => {
          const distance = distances.get(id);
          return distance && distance.value > 0 ? [{ distance: distance.value, emptied: emptied.has(id) }] : [];
        }),
      );
      return {
        letter,
        nextRide: next.ok ? next.value : null,
        reason: next.ok ? null : RANGE_REASONS[next.reason],
        riddenToEmpty: ridden.ok ? ridden.value : null,
      };
    });
  }

  private async measurementsOf(runs: readonly RunSummary[], keys: readonly string[]): Promise<Measurements> {
    const ids = runs.map(({ id }) => id);
    const [loggers, figures] = await Promise.all([
      this.runs.loggersOf(ids),
      Promise.all([...new Set(keys)].map(async (key) => [key, await this.figures.of(ids, key)] as const)),
    ]);
    return { loggers, figures: new Map(figures) };
  }
}

function measured(trial: StoredTrial, runs: readonly RunSummary[], { loggers, figures }: Measurements): Measured[] {
  const own = figures.get(trial.decidingFigure)!;
  const isRange = trial.decidingFigure.startsWith('range');
  // Never two kinds of test in one comparison: a consumption up a climb is not one on a round.
  const { kinds } = DECIDING_FIGURES[trial.decidingFigure];
  const kind = kinds.find((one) => runs.some((run) => run.testKind === one && own.has(run.id)));
  return runs.flatMap((run) => {
    const figure = own.get(run.id);
    if (!figure || run.testKind !== kind) return [];
    // A range leans on what is known of the pack too, so it cancels only between setups with the same packs.
    const packs = isRange ? (trial.packIdsOf.get(run.setup.revisionId) ?? []).join('+') : '';
    const { value, standardUncertainty, systematic } = figure;
    const logger = loggers.get(run.id) ?? null;
    return [
      { run, value, standardUncertainty, systematic, instrument: logger === null ? null : `${logger} ${packs}` },
    ];
  });
}

function inputOf(trial: StoredTrial, counted: readonly Measured[], resamples: number): ComparisonInput {
  const { better, label, unit } = DECIDING_FIGURES[trial.decidingFigure];
  const names = namesOf(trial);
  const setups = trial.setups.map(
    ({ revisionId }): SetupRuns => ({
      name: names.get(revisionId)!,
      runs: counted
        .filter(({ run }) => run.setup.revisionId === revisionId)
        .map(({ run, value, systematic, instrument: id }) => ({
          value,
          block: run.outing.id,
          instrument: { id, relativeUncertainty: Math.abs(systematic / value) },
        })),
    }),
  );
  return {
    setups,
    smallestDifference: trial.smallestDifference,
    words: figureVocabulary(trial.decidingFigure, label, better),
    unit,
    seed: SEED,
    resamples,
  };
}

/** Names as the sentences use them; two revisions of one setup are told apart. */
function namesOf(trial: StoredTrial): Map<string, string> {
  const twice = (name: string): boolean => trial.setups.filter((setup) => setup.name === name).length > 1;
  return new Map(
    trial.setups.map(({ revisionId, name, revisionNumber }) => [
      revisionId,
      twice(name) ? `${name} (revision ${revisionNumber})` : name,
    ]),
  );
}

function headlineOf({ sentences }: Comparison): string {
  return sentences[0] ?? '';
}

function sameVerdicts(a: Comparison, b: Comparison): boolean {
  return a.pairs.every(({ verdict, difference }, k) => {
    const other = b.pairs[k];
    return verdict === other?.verdict && isAbove(difference) === isAbove(other.difference);
  });
}

function isAbove(difference: Comparison['pairs'][number]['difference']): boolean | undefined {
  return difference && difference.estimate > 0;
}
