import {
  DECIDING_FIGURES,
  figureVocabulary,
  findConfounding,
  ridingText,
  sortIntoArms,
  type ComparedRun,
  type ComparisonInput,
  type DecidingFigureKey,
  type Look,
  type NamedConfounding,
  type SmallestDifference,
  type SortedRuns,
} from '@ebrix/core/compare';
import { mean } from '@ebrix/core/numeric';
import type { TrialRun } from './trial-run.repository.js';
import type { StoredTrial } from './trial.repository.js';

/** Same runs, same answer: the resampling of a trial always starts from this seed. */
const SEED = 20_261;

export interface FigureOfRun {
  readonly value: number;
  readonly standardUncertainty: number;
  readonly systematic: number;
  readonly corrections?: readonly { readonly source: string; readonly effect: number }[];
}
/** Figures by key, then by run. */
export type Figures = ReadonlyMap<string, ReadonlyMap<string, FigureOfRun>>;

export interface Measured {
  readonly run: TrialRun;
  readonly figure: FigureOfRun;
}
/** The runs of a trial by one of its figures, sorted into those that count and those that do not. */
export interface PreparedFigure {
  readonly key: DecidingFigureKey;
  /** Runs of the kind of test that the figure is read from, whether they have it or not. */
  readonly ofKind: readonly TrialRun[];
  readonly measured: readonly Measured[];
  readonly sorted: SortedRuns;
  /** Neither left out nor apart. */
  readonly counted: readonly Measured[];
}

/** Runs on the trial's course that have a figure, by arms. Never two kinds of test: consumption up a climb is not that on a round. */
export function prepareFigure(
  trial: StoredTrial,
  key: DecidingFigureKey,
  runs: readonly TrialRun[],
  figures: Figures,
): PreparedFigure {
  const values = figures.get(key) ?? new Map<string, FigureOfRun>();
  const own = new Set(trial.setups.map(({ revisionId }) => revisionId));
  const ridden = runs.filter(
    ({ revisionId, courseId }) => own.has(revisionId) && (trial.course === null || courseId === trial.course.id),
  );
  const { kinds } = DECIDING_FIGURES[key];
  const kind = kinds.find((one) => ridden.some((run) => run.testKind === one && values.has(run.id)));
  const ofKind = ridden.filter(({ testKind }) => kinds.some((one) => one === testKind));
  const measured = ridden.flatMap((run) => {
    const figure = values.get(run.id);
    return figure && run.testKind === kind ? [{ run, figure }] : [];
  });
  const sorted = sortIntoArms(
    measured.map(({ run }) => run),
    trial.setups,
    trial.heldRiding,
    { countsSimulated: trial.countsSimulated },
  );
  return {
    key,
    ofKind,
    measured,
    sorted,
    counted: measured.filter(({ run }) => sorted.armOf.has(run.id) && !run.isExcluded),
  };
}

export interface InputOptions {
  readonly smallestDifference?: SmallestDifference;
  readonly resamples: number;
  readonly isBrief?: boolean;
  readonly look?: Look;
  /** A condition taken for a covariate, by run. */
  readonly covariate?: (run: TrialRun) => number | undefined;
  /** Runs left out by a person count too. */
  readonly withExcluded?: boolean;
}

export function inputOf(trial: StoredTrial, prepared: PreparedFigure, options: InputOptions): ComparisonInput {
  const { key, sorted, measured, counted } = prepared;
  const { better, label, unit } = DECIDING_FIGURES[key];
  const names = namesOf(trial);
  const runs = options.withExcluded ? measured.filter(({ run }) => sorted.armOf.has(run.id)) : counted;
  const isRange = key.startsWith('range');
  const confounded = confoundingOf(trial, prepared);
  return {
    setups: trial.setups.map(({ revisionId }, arm) => ({
      name: names[arm]!,
      runs: runs
        .filter(({ run }) => sorted.armOf.get(run.id) === arm)
        .map((one) => toCompared(one, isRange ? (trial.packIdsOf.get(revisionId) ?? []) : [], options.covariate)),
    })),
    smallestDifference: options.smallestDifference ?? trial.smallestDifference,
    words: figureVocabulary(key, label, better),
    unit,
    seed: SEED,
    resamples: options.resamples,
    ...(options.isBrief && { isBrief: true }),
    ...(trial.design !== null && { design: trial.design }),
    ...(confounded.length > 0 && { confounded }),
    ...(options.look && { look: options.look }),
  };
}

function toCompared(
  { run, figure }: Measured,
  packIds: readonly string[],
  covariateOf: InputOptions['covariate'],
): ComparedRun {
  const covariate = covariateOf?.(run);
  const { value, systematic, corrections = [] } = figure;
  return {
    value,
    block: run.outing.id,
    ...(covariate !== undefined && { covariate }),
    instrument: {
      // A range leans on what is known of the pack too, so it cancels only between setups with the same packs.
      id: run.loggerId === null ? null : `${run.loggerId} ${packIds.join('+')}`,
      relativeUncertainty: value === 0 ? 0 : Math.abs(systematic / value),
    },
    ...(value !== 0 &&
      corrections.length > 0 && {
        corrections: corrections.map(({ source, effect }) => ({
          id: `${source} of ${run.factors['bike'] ?? 'a bike'}`,
          relativeEffect: effect / value,
        })),
      }),
  };
}

/** By what factor a correction moved the runs of each arm on average, over the runs that have both figures. */
export function movedBy(asRidden: PreparedFigure, corrected: PreparedFigure): { arm: number; factor: number }[] {
  const before = new Map(asRidden.counted.map(({ run, figure }) => [run.id, figure.value]));
  const factors = new Map<number, number[]>();
  for (const { run, figure } of corrected.counted) {
    const arm = corrected.sorted.armOf.get(run.id)!;
    const ridden = before.get(run.id);
    if (ridden) factors.set(arm, [...(factors.get(arm) ?? []), figure.value / ridden]);
  }
  return [...factors].sort(([a], [b]) => a - b).map(([arm, list]) => ({ arm, factor: mean(list) }));
}

/** What keeps arms apart beside the outing, among the runs that count. */
export function confoundingOf(trial: StoredTrial, { sorted, counted }: PreparedFigure): NamedConfounding[] {
  const names = namesOf(trial);
  return findConfounding(
    trial.setups.map((_, arm) => ({
      name: names[arm]!,
      runs: counted.filter(({ run }) => sorted.armOf.get(run.id) === arm).map(({ run }) => run),
    })),
    trial.meantToDiffer,
  );
}

/** Names as the sentences use them, by arm: revisions of one setup, and ways of riding it, are told apart. */
export function namesOf(trial: Pick<StoredTrial, 'setups'>): string[] {
  const plain = trial.setups.map(({ name, revisionNumber, revisionId }) =>
    trial.setups.some((other) => other.name === name && other.revisionId !== revisionId)
      ? `${name} (revision ${revisionNumber})`
      : name,
  );
  return trial.setups.map(({ riding }, arm) => {
    const isAlone = plain.filter((name) => name === plain[arm]).length === 1;
    const text = ridingText(riding);
    return isAlone || text === '' ? plain[arm]! : `${plain[arm]!}, ${text}`;
  });
}
