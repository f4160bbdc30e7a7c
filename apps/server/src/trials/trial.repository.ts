import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import {
  LETTERS,
  ridingSchema,
  type Trial,
  type TrialInput,
  type TrialListQuery,
  type TrialName,
} from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { partOf } from '../common/part-of.js';
import { iso, isoOrNull } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import { deleteSeen } from '../database/delete-seen.js';

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
  held_riding: unknown;
  meant_to_differ: Trial['meantToDiffer'];
  counts_simulated: boolean;
  chosen_design: Trial['design'];
}
interface TrialSetupRow {
  trial_id: string;
  position: number;
  revision_id: string;
  revision_number: number;
  setup_id: string;
  name: string;
  pack_ids: string[] | null;
  riding: unknown;
}
/** With the packs each setup rides on, which the API does not show, before its setups were judged and its runs counted. */
export interface StoredTrial extends Omit<Trial, 'setups'> {
  readonly setups: readonly Omit<Trial['setups'][number], 'countedRuns' | 'excludedRuns' | 'openClearance'>[];
  readonly packIdsOf: ReadonlyMap<string, readonly string[]>;
}

@Injectable()
export class TrialRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  /** Newest first, archived ones last; of a trial that is gone meanwhile those behind it are told by its id. */
  async list({ id, limit, after, text = '' }: TrialListQuery = {}): Promise<StoredTrial[]> {
    const query = this.database('trial as t')
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
        't.held_riding',
        't.meant_to_differ',
        't.counts_simulated',
        't.chosen_design',
      )
      .where(id === undefined ? {} : { 't.id': id })
      .orderByRaw('(t.archived_at is not null), t.id desc');
    if (limit !== undefined) void query.limit(limit);
    if (text.trim() !== '') void query.whereILike('t.question', partOf(text));
    if (after !== undefined) {
      const last = await this.database('trial').where({ id: after }).first<{ archived_at: Date | null }>('archived_at');
      // Two pieces of one order: the archived ones stand behind all others.
      if (last?.archived_at) void query.whereRaw('t.archived_at is not null and t.id < ?', [after]);
      else void query.whereRaw('(t.archived_at is not null or t.id < ?)', [after]);
    }
    const rows = (await query) as unknown as TrialRow[];
    const setups = await this.database('trial_setup as ts')
      .join('setup_revision as rev', 'rev.id', 'ts.revision_id')
      .join('setup as s', 's.id', 'rev.setup_id')
      .select<TrialSetupRow[]>(
        'ts.trial_id',
        'ts.position',
        'ts.revision_id',
        'ts.riding',
        'rev.number as revision_number',
        's.id as setup_id',
        's.name',
        this.database.raw(
          '(select array_agg(p.pack_id::text order by p.position) from setup_revision_pack p where p.revision_id = rev.id) as pack_ids',
        ),
      )
      .whereIn(
        'ts.trial_id',
        rows.map((row) => row.id),
      )
      .orderBy('ts.position');
    const setupsOf = new Map<string, TrialSetupRow[]>(rows.map(({ id: trialId }) => [trialId, []]));
    for (const setup of setups) setupsOf.get(setup.trial_id)!.push(setup);
    return rows.map((row) => toTrial(row, setupsOf.get(row.id) ?? []));
  }

  /** In the order of the list. */
  async names(): Promise<TrialName[]> {
    return this.database<TrialName>('trial').select('id', 'question').orderByRaw('(archived_at is not null), id desc');
  }

  async insert(input: TrialInput): Promise<string> {
    const id = uuidv7();
    await this.database.transaction(async (transaction) => {
      await transaction('trial').insert({ id, ...toRow(input) });
      await insertArms(id, input.arms, transaction);
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
        const before = await armsOf(id, transaction);
        await transaction('trial_setup').where({ trial_id: id }).delete();
        await insertArms(id, change.arms, transaction);
        await moveInPlan(id, before, change.arms, transaction);
      }
      return true;
    });
  }

  delete(id: string, version: number | undefined): Promise<number> {
    return deleteSeen(this.database, 'trial', id, version);
  }
}

type Arms = TrialInput['arms'];

async function armsOf(trialId: string, transaction: Knex): Promise<Arms> {
  const rows = await transaction('trial_setup')
    .select<{ revision_id: string; riding: unknown }[]>('revision_id', 'riding')
    .where({ trial_id: trialId })
    .orderBy('position');
  return rows.map(({ revision_id: revisionId, riding }) => ({ revisionId, riding: ridingSchema.parse(riding) }));
}

/** Where each arm of before stands now: the same setup ridden the same way, or the only one with that setup. */
function newPlaces(before: Arms, now: Arms): (number | undefined)[] {
  return before.map((arm) => {
    const same = now.findIndex((other) => JSON.stringify(other) === JSON.stringify(arm));
    if (same >= 0) return same;
    const ofSetup = now.flatMap(({ revisionId }, k) => (revisionId === arm.revisionId ? [k] : []));
    const wereOfSetup = before.filter(({ revisionId }) => revisionId === arm.revisionId);
    return ofSetup.length === 1 && wereOfSetup.length === 1 ? ofSetup[0] : undefined;
  });
}

/** Planned runs follow their arm; those of arms that left leave the plan, which notes it. Fails: `wrong-state` when one was ridden. */
async function moveInPlan(trialId: string, before: Arms, now: Arms, transaction: Knex): Promise<void> {
  const slots = await transaction<{ id: string; state: string; trial_id: string; arm: number }>('plan_slot')
    .select('id', 'state', 'arm')
    .where({ trial_id: trialId });
  const places = newPlaces(before, now);
  const gone = slots.filter(({ arm }) => places[arm] === undefined);
  if (gone.some(({ state }) => state !== 'planned'))
    throw new DomainError(
      'wrong-state',
      'A setup that was ridden by this trial’s plan cannot leave it. Ask a new question without it, or leave its runs out with a reason.',
    );
  for (const [arm, place] of places.entries()) {
    if (place === undefined || place === arm) continue;
    await transaction('plan_slot')
      .whereIn(
        'id',
        slots.filter((slot) => slot.arm === arm).map(({ id }) => id),
      )
      .update({ arm: place });
  }
  if (gone.length === 0) return;
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

async function insertArms(trialId: string, arms: Arms, transaction: Knex): Promise<void> {
  if (arms.length === 0) return;
  await transaction('trial_setup').insert(
    arms.map(({ revisionId, riding }, position) => ({
      trial_id: trialId,
      position,
      revision_id: revisionId,
      riding: JSON.stringify(riding),
    })),
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
    held_riding: JSON.stringify(input.heldRiding),
    meant_to_differ: JSON.stringify(input.meantToDiffer),
    counts_simulated: input.countsSimulated,
    chosen_design: input.design,
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
      riding: ridingSchema.parse(setup.riding),
    })),
    notes: row.notes,
    furtherFigures: row.further_figures,
    heldEqual: row.held_equal,
    recorded: row.recorded,
    heldRiding: ridingSchema.parse(row.held_riding),
    meantToDiffer: row.meant_to_differ,
    countsSimulated: row.counts_simulated,
    design: row.chosen_design,
    packIdsOf: new Map(setups.map((setup) => [setup.revision_id, setup.pack_ids ?? []])),
  };
}
