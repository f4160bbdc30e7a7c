import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { DECIDING_FIGURES } from '@ebrix/core/compare';
import { KNEX } from '../database/database.module.js';
import { TrialService } from '../trials/trial.service.js';
import { exactLine } from './package-writer.js';
import { keyText, type Selection } from './selection.js';

export interface DerivedTable {
  readonly path: string;
  readonly name: string;
  readonly description: string;
  readonly fields: readonly { readonly name: string; readonly type: string; readonly unit?: string }[];
  readonly pieces: () => AsyncGenerator<string>;
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

/** Tables for those who want to compute at once: runs with their figures side by side, and what was concluded. */
@Injectable()
export class DerivedTables {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly trials: TrialService,
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
        pieces: () =>
          this.runs(
            selection,
            shown.map(({ key }) => key),
          ),
      },
      {
        path: 'derived/verdicts.csv',
        name: 'verdicts',
        description:
          'What the trials let one conclude: the pair that leads, its difference in the unit of the figure with a 95 % interval.',
        fields: [
          ...['trial', 'question', 'figure', 'unit', 'a', 'b', 'verdict'].map((name) => ({ name, type: 'string' })),
          ...['difference', 'lower', 'upper'].map((name) => ({ name, type: 'number' })),
          { name: 'sentence', type: 'string' },
        ],
        pieces: () => this.verdicts(selection, trialId),
      },
    ];
  }

  private async *runs(selection: Selection, keys: readonly string[]): AsyncGenerator<string> {
    yield exactLine([
      ...['run', 'test', 'setup', 'course', 'date', 'outing', 'revision', 'left_out'],
      ...keys.flatMap((key) => [key, `u_${key}`]),
    ]);
    const rows: RunRow[] = await this.database('run as r')
      .join('setup_revision as v', 'v.id', 'r.setup_revision_id')
      .join('setup as s', 's.id', 'v.setup_id')
      .join('course as c', 'c.id', 'r.course_id')
      .join('outing as o', 'o.id', 'r.outing_id')
      .whereNull('r.deleted_at')
      .orderBy('r.id')
      .select(
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
    const chosen = rows.filter(({ id }) => selection === undefined || selection.get('run')?.has(keyText([id])));
    const PIECE = 200;
    for (let from = 0; from < chosen.length; from += PIECE) {
      const batch = chosen.slice(from, from + PIECE);
      const figures = await this.database('figure')
        .select<FigureRow[]>('run_id', 'key', 'unit', 'value', 'standard_uncertainty')
        .whereIn(
          'run_id',
          batch.map(({ id }) => id),
        );
      const of = new Map(figures.map((figure) => [`${figure.run_id} ${figure.key}`, figure]));
      yield batch
        .map((row) =>
          exactLine([
            ...[row.id, row.test_kind, row.setup, row.course, row.date, row.outing],
            String(row.revision),
            String(row.is_excluded),
            ...keys.flatMap((key) => {
              const figure = of.get(`${row.id} ${key}`);
              return figure ? [String(figure.value), String(figure.standard_uncertainty)] : ['', ''];
            }),
          ]),
        )
        .join('');
    }
  }

  private async *verdicts(selection: Selection, trialId: string | undefined): AsyncGenerator<string> {
    yield exactLine([
      'trial',
      'question',
      'figure',
      'unit',
      'a',
      'b',
      'verdict',
      'difference',
      'lower',
      'upper',
      'sentence',
    ]);
    for (const { id, question, decidingFigure, leading, headline } of await this.trials.list()) {
      const isChosen =
        trialId === undefined ? selection === undefined || selection.get('trial')?.has(keyText([id])) : id === trialId;
      if (!isChosen) continue;
      const { unit } = DECIDING_FIGURES[decidingFigure];
      const difference = leading?.difference;
      yield exactLine([
        ...[id, question, decidingFigure, unit, leading?.a ?? '', leading?.b ?? '', leading?.verdict ?? 'none'],
        ...(difference ? [difference.estimate, difference.lower, difference.upper].map(String) : ['', '', '']),
        headline,
      ]);
    }
  }
}
