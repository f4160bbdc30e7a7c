import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { DECIDING_FIGURES } from '@ebrix/core/compare';
import type { TrialListItem } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';
import { RunFigureRepository } from '../runs/run-figure.repository.js';
import { TrialService } from '../trials/trial.service.js';
import { keyText, type Selection } from './selection.js';

export interface DerivedTable {
  readonly path: string;
  readonly name: string;
  readonly description: string;
  readonly fields: readonly { readonly name: string; readonly type: string; readonly unit?: string }[];
  /** Cells as text, in the order of the fields; an empty one is not known. */
  readonly rows: () => AsyncGenerator<string[]>;
}
interface RunRow {
  id: string;
  test_kind: string;
  setup: string;
  revision: number;
  course: string;
  date: string;
  outing: string;
  is_excluded: boolean;
}
interface FigureRow {
  run_id: string;
  key: string;
  unit: string;
  value: number;
  standard_uncertainty: number;
}

const RUNS_PER_PIECE = 500;
const TRIALS_PER_PIECE = 50;

/** Tables for those who want to compute at once: runs with their figures side by side, and what was concluded. */
@Injectable()
export class DerivedTables {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly trials: TrialService,
    private readonly figures: RunFigureRepository,
  ) {}

  async of(selection: Selection, trialId: string | undefined): Promise<DerivedTable[]> {
    const figures = await this.database('figure')
      .distinct<{ key: string; unit: string }[]>('key', 'unit')
      .orderBy('key');
    const shown = figures.filter(({ key }, k) => figures.findIndex((one) => one.key === key) === k);
    return [
      {
        path: 'derived/runs.csv',
        name: 'runs-with-figures',
        description:
          'Runs with the names of what they are of, and their figures side by side (u: standard uncertainty).',
        fields: [
          ...['run', 'test', 'setup', 'course', 'date', 'outing'].map((name) => ({ name, type: 'string' })),
          { name: 'revision', type: 'integer' },
          { name: 'left_out', type: 'boolean' },
          ...shown.flatMap(({ key, unit }) => [
            { name: key, type: 'number', unit },
            { name: `u_${key}`, type: 'number', unit },
          ]),
        ],
        rows: () =>
          this.runs(
            selection,
            shown.map(({ key }) => key),
          ),
      },
      {
        path: 'derived/verdicts.csv',
        name: 'verdicts',
        description:
          'What the trials let one conclude, pair by pair: the difference of a less b in the unit of the figure and the ratio of a to b, with intervals that hold but for the level, and what instruments add to the standard error.',
        fields: [
          ...VERDICT_TEXTS.map((name) => ({ name, type: 'string' })),
          ...VERDICT_NUMBERS.map((name) => ({ name, type: 'number' })),
          { name: 'sentence', type: 'string' },
        ],
        rows: () => this.verdicts(selection, trialId),
      },
      {
        path: 'derived/trial_runs.csv',
        name: 'trial-runs',
        description:
          'Runs of the trials with the figure that decides: which setup they are of, whether they count, and why not.',
        fields: [
          ...TRIAL_RUN_TEXTS.map((name) => ({ name, type: 'string' })),
          { name: 'counts', type: 'boolean' },
          { name: 'value', type: 'number' },
          { name: 'standard_uncertainty', type: 'number' },
        ],
        rows: () => this.trialRuns(selection, trialId),
      },
    ];
  }

  private async *runs(selection: Selection, keys: readonly string[]): AsyncGenerator<string[]> {
    for await (const batch of this.runRows(selection)) {
      const figures = await this.database('figure')
        .select<FigureRow[]>('run_id', 'key', 'unit', 'value', 'standard_uncertainty')
        .whereIn(
          'run_id',
          batch.map(({ id }) => id),
        );
      const of = new Map(figures.map((figure) => [`${figure.run_id} ${figure.key}`, figure]));
      for (const row of batch)
        yield [
          ...[row.id, row.test_kind, row.setup, row.course, row.date, row.outing],
          String(row.revision),
          String(row.is_excluded),
          ...keys.flatMap((key) => {
            const figure = of.get(`${row.id} ${key}`);
            return figure ? [String(figure.value), String(figure.standard_uncertainty)] : ['', ''];
          }),
        ];
    }
  }

  /** Chosen runs in the order of their keys, some at a time: of a large store no more is held. */
  private async *runRows(selection: Selection): AsyncGenerator<RunRow[]> {
    let last: string | undefined;
    for (;;) {
      const query = this.database('run as r')
        .join('setup_revision as v', 'v.id', 'r.setup_revision_id')
        .join('setup as s', 's.id', 'v.setup_id')
        .join('course as c', 'c.id', 'r.course_id')
        .join('outing as o', 'o.id', 'r.outing_id')
        .whereNull('r.deleted_at')
        .orderBy('r.id')
        .limit(RUNS_PER_PIECE)
        .select<RunRow[]>(
          'r.id',
          'r.test_kind',
          's.name as setup',
          'v.number as revision',
          'c.name as course',
          'o.date',
          'o.title as outing',
          this.database.raw(
            'exists (select from run_exclusion x where x.run_id = r.id and x.undone_at is null) as is_excluded',
          ),
        );
      const rows = await (last === undefined ? query : query.where('r.id', '>', last));
      if (rows.length === 0) return;
      last = rows.at(-1)!.id;
      const chosen = rows.filter(({ id }) => selection === undefined || selection.get('run')?.has(keyText([id])));
      if (chosen.length > 0) yield chosen;
    }
  }

  private async *trialRuns(selection: Selection, trialId: string | undefined): AsyncGenerator<string[]> {
    for await (const { id, decidingFigure } of this.chosenTrials(selection, trialId)) {
      const runs = await this.trials.runsOf(id);
      const figures = await this.figures.of(
        runs.map(({ run }) => run.id),
        decidingFigure,
      );
      for (const { letter, apart, run } of runs) {
        const figure = figures.get(run.id);
        const why = run.exclusion ? `left out: ${run.exclusion.reason}` : (apart ?? (figure ? '' : 'no such figure'));
        yield [
          ...[
            id,
            letter,
            run.setup.name,
            run.id,
            run.outing.id,
            decidingFigure,
            DECIDING_FIGURES[decidingFigure].unit,
            why,
          ],
          String(why === ''),
          figure ? String(figure.value) : '',
          figure ? String(figure.standardUncertainty) : '',
        ];
      }
    }
  }

  private async *chosenTrials(selection: Selection, trialId: string | undefined): AsyncGenerator<TrialListItem> {
    if (trialId !== undefined) return yield* await this.trials.list({ id: trialId });
    let after: string | undefined;
    for (;;) {
      const piece = await this.trials.list({ limit: TRIALS_PER_PIECE, ...(after !== undefined && { after }) });
      if (piece.length === 0) return;
      after = piece.at(-1)!.id;
      yield* piece.filter(({ id }) => selection === undefined || selection.get('trial')?.has(keyText([id])));
    }
  }

  private async *verdicts(selection: Selection, trialId: string | undefined): AsyncGenerator<string[]> {
    for await (const { id, question, decidingFigure, headline } of this.chosenTrials(selection, trialId)) {
      const trial = [id, question, decidingFigure, DECIDING_FIGURES[decidingFigure].unit];
      // The comparison alone: handing data over is no look at a verdict.
      const compared = await this.trials.comparisonOf(id);
      if (!compared) {
        yield [...trial, '', '', '', '', 'none', ...VERDICT_NUMBERS.map(() => ''), headline];
        continue;
      }
      const { comparison, level } = compared;
      const runsOf = new Map(comparison.setups.map(({ name, n }) => [name, n]));
      for (const {
        a,
        b,
        verdict,
        difference,
        ratio,
        sentence,
        instrumentUncertainty,
        correctionUncertainty,
      } of comparison.pairs)
        yield [
          ...[...trial, comparison.design, comparison.method.name, a, b, verdict],
          ...numbersOf(difference),
          ...(difference ? [String(difference.standardError), String(difference.degreesOfFreedom)] : ['', '']),
          String(level),
          String(Math.hypot(instrumentUncertainty ?? 0, correctionUncertainty ?? 0)),
          ...numbersOf(ratio),
          ...(ratio ? [String(ratio.logStandardError), String(ratio.degreesOfFreedom)] : ['', '']),
          String((runsOf.get(a) ?? 0) + (runsOf.get(b) ?? 0)),
          sentence,
        ];
    }
  }
}

const VERDICT_TEXTS = ['trial', 'question', 'figure', 'unit', 'design', 'method', 'a', 'b', 'verdict'] as const;
const TRIAL_RUN_TEXTS = ['trial', 'letter', 'setup', 'run', 'outing', 'figure', 'unit', 'why_not'] as const;
const VERDICT_NUMBERS = [
  'difference',
  'lower',
  'upper',
  'standard_error',
  'df',
  'level',
  'shared_uncertainty',
  'ratio',
  'ratio_lower',
  'ratio_upper',
  'log_standard_error',
  'ratio_df',
  'runs',
] as const;

function numbersOf(found: { estimate: number; lower: number; upper: number } | undefined): string[] {
  return found ? [found.estimate, found.lower, found.upper].map(String) : ['', '', ''];
}
