import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import { LETTERS, type Trial, type TrialInput } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { iso, isoOrNull } from '../common/row.js';
import { KNEX } from '../database/database.module.js';

interface TrialRow {
  id: string;
  version: number;
  updated_at: Date;
  archived_at: Date | null;
  question: string;
  deciding_figure: Trial['decidingFigure'];
  smallest_difference_kind: Trial['smallestDifference']['kind'];
  smallest_difference: number;
  course_id: string | null;
  course_name: string | null;
  notes: string;
  further_figures: Trial['furtherFigures'];
  held_equal: string[];
  recorded: string[];
}
interface TrialSetupRow {
  trial_id: string;
  position: number;
  revision_id: string;
  revision_number: number;
  setup_id: string;
  name: string;
  pack_ids: string[];
  counted_runs: number;
  excluded_runs: number;
}
/** With the packs each setup rides on, which the API does not show, and before its setups were judged. */
export interface StoredTrial extends Omit<Trial, 'setups'> {
  readonly setups: readonly Omit<Trial['setups'][number], 'openClearance'>[];
  readonly packIdsOf: ReadonlyMap<string, readonly string[]>;
}

@Injectable()
export class TrialRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(id?: string): Promise<StoredTrial[]> {
    const rows: TrialRow[] = await this.database('trial as t')
      .leftJoin('course as c', 'c.id', 't.course_id')
      .select(
        't.id',
        't.version',
        't.updated_at',
        't.archived_at',
        't.question',
        't.deciding_figure',
        't.smallest_difference_kind',
        't.smallest_difference',
        't.course_id',
        'c.name as course_name',
        't.notes',
        't.further_figures',
        't.held_equal',
        't.recorded',
      )
      .where(id === undefined ? {} : { 't.id': id })
      .orderByRaw('t.archived_at is not null, t.id desc');
    const setups = await this.database('trial_setup as ts')
      .join('trial as t', 't.id', 'ts.trial_id')
      .join('setup_revision as rev', 'rev.id', 'ts.revision_id')
      .join('setup as s', 's.id', 'rev.setup_id')
      .leftJoin('run as r', (join) =>
        join
          .on('r.setup_revision_id', 'rev.id')
          .andOn((on) => on.onNull('t.course_id').orOn('r.course_id', 't.course_id')),
      )
      .leftJoin('run_exclusion as x', (join) => join.on('x.run_id', 'r.id').onNull('x.undone_at'))
      .select<TrialSetupRow[]>(
        'ts.trial_id',
        'ts.position',
        'ts.revision_id',
        'rev.number as revision_number',
        's.id as setup_id',
        's.name',
        this.database.raw(
          '(select array_agg(p.pack_id::text order by p.position) from setup_revision_pack p where p.revision_id = rev.id) as pack_ids',
        ),
        this.database.raw('count(r.id) filter (where x.id is null)::int as counted_runs'),
        this.database.raw('count(x.id)::int as excluded_runs'),
      )
      .whereIn(
        'ts.trial_id',
        rows.map((row) => row.id),
      )
      .groupBy('ts.trial_id', 'ts.position', 'ts.revision_id', 'rev.id', 's.id')
      .orderBy('ts.position');
    return rows.map((row) =>
      toTrial(
        row,
        (setups as TrialSetupRow[]).filter((setup) => setup.trial_id === row.id),
      ),
    );
  }

  async insert(input: TrialInput): Promise<string> {
    const id = uuidv7();
    await this.database.transaction(async (transaction) => {
      await transaction('trial').insert({ id, ...toRow(input) });
      await insertSetups(id, input.revisionIds, transaction);
    });
    return id;
  }

  async update(id: string, version: number, change: TrialInput | { archived: boolean }): Promise<boolean> {
    return this.database.transaction(async (transaction) => {
      const values =
        'archived' in change ? { archived_at: change.archived ? transaction.fn.now() : null } : toRow(change);
      const count = await transaction('trial')
        .where({ id, version })
        .update({ ...values, version: version + 1, updated_at: transaction.fn.now() });
      if (count === 0) return false;
      if (!('archived' in change)) {
        await transaction('trial_setup').where({ trial_id: id }).delete();
        await insertSetups(id, change.revisionIds, transaction);
        await takeOutOfPlan(id, change.revisionIds, transaction);
      }
      return true;
    });
  }

  async delete(id: string): Promise<number> {
    return this.database('trial').where({ id }).delete();
  }
}

/** Planned runs of setups that left the trial leave its plan, which notes it. Fails: `wrong-state` when one of them was ridden. */
async function takeOutOfPlan(trialId: string, staying: readonly string[], transaction: Knex): Promise<void> {
  const gone = await transaction<{ id: string; state: string; trial_id: string; revision_id: string }>('plan_slot')
    .select('id', 'state')
    .where({ trial_id: trialId })
    .whereNotIn('revision_id', [...staying]);
  if (gone.length === 0) return;
  if (gone.some(({ state }) => state !== 'planned'))
    throw new DomainError(
      'wrong-state',
      'A setup that was ridden by this trial’s plan cannot leave it. Ask a new question without it, or leave its runs out with a reason.',
    );
  await transaction('plan_slot')
    .whereIn(
      'id',
      gone.map(({ id }) => id),
    )
    .delete();
  await transaction('plan').where({ trial_id: trialId }).increment('version', 1);
  await transaction('plan_change').insert({
    id: uuidv7(),
    trial_id: trialId,
    what: `A setup left the trial, and ${gone.length} planned ${gone.length === 1 ? 'run' : 'runs'} with it.`,
  });
}

async function insertSetups(trialId: string, revisionIds: readonly string[], transaction: Knex): Promise<void> {
  if (revisionIds.length === 0) return;
  await transaction('trial_setup').insert(
    revisionIds.map((revisionId, position) => ({ trial_id: trialId, position, revision_id: revisionId })),
  );
}

function toRow(input: TrialInput): Record<string, unknown> {
  return {
    question: input.question,
    deciding_figure: input.decidingFigure,
    smallest_difference_kind: input.smallestDifference.kind,
    smallest_difference: input.smallestDifference.value,
    course_id: input.courseId,
    notes: input.notes,
    further_figures: JSON.stringify(input.furtherFigures),
    held_equal: JSON.stringify(input.heldEqual),
    recorded: JSON.stringify(input.recorded),
  };
}

function toTrial(row: TrialRow, setups: readonly TrialSetupRow[]): StoredTrial {
  return {
    id: row.id,
    version: row.version,
    updatedAt: iso(row.updated_at),
    archivedAt: isoOrNull(row.archived_at),
    question: row.question,
    decidingFigure: row.deciding_figure,
    smallestDifference: { kind: row.smallest_difference_kind, value: row.smallest_difference },
    course: row.course_id === null ? null : { id: row.course_id, name: row.course_name! },
    setups: setups.map((setup) => ({
      letter: LETTERS[setup.position]!,
      revisionId: setup.revision_id,
      setupId: setup.setup_id,
      name: setup.name,
      revisionNumber: setup.revision_number,
      countedRuns: setup.counted_runs,
      excludedRuns: setup.excluded_runs,
    })),
    notes: row.notes,
    furtherFigures: row.further_figures,
    heldEqual: row.held_equal,
    recorded: row.recorded,
    packIdsOf: new Map(setups.map((setup) => [setup.revision_id, setup.pack_ids])),
  };
}
