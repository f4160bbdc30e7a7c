import { Injectable } from '@nestjs/common';
import {
  DECIDING_FIGURES,
  figureVocabulary,
  nextRideRange,
  riddenRange,
  type Comparison,
  type ComparisonInput,
  type SetupValues,
} from '@ebrix/core/compare';
import type { ComparisonDto, RunSummary, Verdict } from '@ebrix/contract';
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
  readonly instrument: string;
}

@Injectable()
export class VerdictService {
  constructor(
    private readonly runs: RunRepository,
    private readonly figures: RunFigureRepository,
    private readonly pool: PagePool,
  ) {}

  /** `isBrief`: only what a list shows. */
  async verdictOn(
    trial: StoredTrial,
    { resamples, isBrief }: { resamples: number; isBrief: boolean },
  ): Promise<Verdict> {
    const { label, unit, better } = DECIDING_FIGURES[trial.decidingFigure];
    const figure = { key: trial.decidingFigure, label, unit, better };
    const all = await this.runs.listOfRevisions(
      trial.setups.map(({ revisionId }) => revisionId),
      trial.course?.id ?? null,
    );
    const measured = await this.measure(trial, all);
    const { kinds } = DECIDING_FIGURES[trial.decidingFigure];
    const ofKind = all.filter(({ testKind }) => kinds.some((kind) => kind === testKind));
    const counted = measured.filter(({ run }) => !run.exclusion);
    const letterOf = new Map(trial.setups.map(({ revisionId, letter }) => [revisionId, letter]));
    const outcome = await this.compare(trial, counted, resamples);
    const hasExcluded = measured.length > counted.length;
    const whole = hasExcluded && !isBrief ? await this.compare(trial, measured, 0) : undefined;
    return {
      figure,
      points: measured.map(({ run, value, standardUncertainty }) => ({
        runId: run.id,
        letter: letterOf.get(run.setup.revisionId)!,
        value,
        standardUncertainty,
        isExcluded: run.exclusion !== null,
        outing: run.outing.title || run.outing.date,
      })),
      comparison: outcome.ok ? (outcome.value as unknown as ComparisonDto) : null,
      reason: outcome.ok ? null : outcome.message,
      headline: outcome.ok ? headlineOf(outcome.value) : outcome.message,
      withExcluded:
        whole?.ok && outcome.ok
          ? { sentences: [...whole.value.sentences], isSame: sameVerdicts(whole.value, outcome.value) }
          : null,
      runsWithoutFigure: ofKind.length - measured.length,
      ranges: isBrief
        ? []
        : await this.rangesOf(
            trial,
            all.filter(({ exclusion, testKind }) => exclusion === null && testKind === 'range'),
          ),
    };
  }

  private async compare(
    trial: StoredTrial,
    measured: readonly Measured[],
    resamples: number,
  ): Promise<{ ok: true; value: Comparison } | { ok: false; message: string }> {
    if (trial.setups.length < 2) return { ok: false, message: 'Choose at least two setups to compare.' };
    const { better, label, unit } = DECIDING_FIGURES[trial.decidingFigure];
    const names = namesOf(trial);
    const setups = trial.setups.map(({ revisionId }): SetupValues => {
      const own = measured.filter(({ run }) => run.setup.revisionId === revisionId);
      return {
        name: names.get(revisionId)!,
        values: own.map(({ value }) => value),
        instruments: own.map(({ instrument: id, systematic, value }) => ({
          id,
          relativeUncertainty: Math.abs(systematic / value),
        })),
      };
    });
    const input: ComparisonInput = {
      setups,
      smallestDifference: trial.smallestDifference,
      words: figureVocabulary(trial.decidingFigure, label, better),
      unitText: unit,
      seed: SEED,
      resamples,
    };
    return this.pool.run('compare', input);
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

  private async measure(trial: StoredTrial, runs: readonly RunSummary[]): Promise<Measured[]> {
    const ids = runs.map(({ id }) => id);
    const [figures, loggers] = await Promise.all([
      this.figures.of(ids, trial.decidingFigure),
      this.runs.loggersOf(ids),
    ]);
    const isRange = trial.decidingFigure.startsWith('range');
    // Never two kinds of test in one comparison: a consumption up a climb is not one on a round.
    const { kinds } = DECIDING_FIGURES[trial.decidingFigure];
    const kind = kinds.find((one) => runs.some((run) => run.testKind === one && figures.has(run.id)));
    return runs.flatMap((run) => {
      const figure = figures.get(run.id);
      if (!figure || run.testKind !== kind) return [];
      // A range leans on what is known of the pack too, so it cancels only between setups with the same packs.
      const packs = isRange ? (trial.packIdsOf.get(run.setup.revisionId) ?? []).join('+') : '';
      const { value, standardUncertainty, systematic } = figure;
      return [
        { run, value, standardUncertainty, systematic, instrument: `${loggers.get(run.id) ?? 'unstated'} ${packs}` },
      ];
    });
  }
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
  return a.pairs.every(
    ({ verdict, difference }, k) =>
      verdict === b.pairs[k]?.verdict && difference.estimate > 0 === b.pairs[k].difference.estimate > 0,
  );
}
