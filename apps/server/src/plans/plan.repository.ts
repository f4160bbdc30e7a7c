import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import {
  LETTERS,
  planInputSchema,
  ridingSchema,
  type OpenSlot,
  type Plan,
  type PlanInput,
  type PlanSlot,
  type RidingDto,
} from '@ebrix/contract';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';

interface SlotRow {
  id: string;
  outing: number;
  position: number;
  revision_id: string;
  letter: number;
  test: number;
  direction: PlanSlot['direction'];
  state: PlanSlot['state'];
  is_out_of_order: boolean;
  ride_id: string | null;
  run_id: string | null;
}
export interface SlotToStore {
  readonly id: string | null;
  readonly outing: number;
  readonly position: number;
  readonly revisionId: string;
  /** Place of its arm among the trial's setups. */
  readonly arm: number;
  readonly test: number;
  readonly direction: 1 | -1;
}

interface OpenSlotRow extends Pick<SlotRow, 'direction' | 'id' | 'outing' | 'revision_id' | 'test'> {
  trial_id: string;
  question: string;
  number: number;
  arm: number;
  setup: string;
  input: unknown;
  held_riding: unknown;
  riding: unknown;
}
/** More than anyone chooses from. */
const MAX_OPEN_SLOTS = 400;

/** The arm's own way of riding; the trial's where the arm leaves it open. */
function ridingOfArm(ofTrial: unknown, ofArm: unknown): RidingDto {
  const held = ridingSchema.parse(ofTrial ?? {});
  const own = ridingSchema.parse(ofArm ?? {});
  return {
    way: own.way ?? held.way,
    level: own.level || held.level,
    gear: own.gear || held.gear,
    payloadKg: own.payloadKg ?? held.payloadKg,
    limitMode: own.limitMode ?? held.limitMode,
    laps: own.laps ?? held.laps,
  };
}

@Injectable()
export class PlanRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async find(trialId: string): Promise<Plan | undefined> {
    const row = await this.database('plan')
      .select<{ version: number; input: unknown }[]>('version', 'input')
      .where({ trial_id: trialId })
      .first();
    if (!row) return undefined;
    const { version, input } = row;
    const changes = await this.database('plan_change')
      .select<{ at: Date; what: string; why: string }[]>('at', 'what', 'why')
      .where({ trial_id: trialId })
      .orderBy('at', 'desc')
      .limit(200);
    return {
      trialId,
      version,
      // Fields that came later take their defaults in plans stored before.
      input: planInputSchema.parse(input),
      slots: await this.slotsOf(trialId),
      changes: changes.map(({ at, what, why }) => ({ at: iso(at), what, why })),
    };
  }

  /** In riding order. */
  async slotsOf(trialId: string): Promise<PlanSlot[]> {
    const rows = await this.database('plan_slot as s')
      .join('trial_setup as ts', (join) => join.on('ts.trial_id', 's.trial_id').andOn('ts.position', 's.arm'))
      .select<SlotRow[]>(
        's.id',
        's.outing',
        's.position',
        's.revision_id',
        'ts.position as letter',
        's.test',
        's.direction',
        's.state',
        's.is_out_of_order',
        this.database.raw(
          `(select r.id from ride r where r.slot_id = s.id and r.state not in ('repeated','aborted') order by r.created_at desc limit 1) as ride_id`,
        ),
        this.database.raw(
          '(select run.id from run where run.slot_id = s.id and run.deleted_at is null order by run.created_at desc limit 1) as run_id',
        ),
      )
      .where('s.trial_id', trialId)
      .orderBy(['s.outing', 's.position']);
    return rows.map((row) => ({
      id: row.id,
      outing: row.outing,
      position: row.position,
      revisionId: row.revision_id,
      letter: LETTERS[row.letter]!,
      test: row.test,
      direction: row.direction,
      state: row.state,
      rideId: row.ride_id,
      runId: row.run_id,
      isOutOfOrder: row.is_out_of_order,
    }));
  }

  /** False when the stored version is another one. Slots that were ridden stay, whatever the new list says. */
  async save(
    trialId: string,
    version: number | null,
    input: PlanInput,
    slots: readonly SlotToStore[],
    change: { what: string; why: string },
  ): Promise<boolean> {
    return this.database.transaction(async (transaction) => {
      if (version === null) {
        const rows = await transaction('plan')
          .insert({ trial_id: trialId, input: JSON.stringify(input) })
          .onConflict('trial_id')
          .ignore()
          .returning('trial_id');
        if (rows.length === 0) return false;
      } else {
        const count = await transaction('plan')
          .where({ trial_id: trialId, version })
          .update({ version: version + 1, input: JSON.stringify(input), updated_at: transaction.fn.now() });
        if (count === 0) return false;
      }
      const kept = slots.flatMap(({ id }) => id ?? []);
      await transaction('plan_slot')
        .where({ trial_id: trialId })
        .andWhere({ state: 'planned' })
        .whereNotIn('id', kept)
        .delete();
      for (const { id, outing, position, revisionId, arm, test, direction } of slots) {
        if (id === null)
          await transaction('plan_slot').insert({
            id: uuidv7(),
            trial_id: trialId,
            outing,
            position,
            revision_id: revisionId,
            arm,
            test,
            direction,
          });
        else
          await transaction('plan_slot')
            .where({ id, trial_id: trialId })
            .update({ outing, position, revision_id: revisionId, arm, test, direction });
      }
      await transaction('plan_change').insert({ id: uuidv7(), trial_id: trialId, ...change });
      return true;
    });
  }

  async setState(slotId: string, state: PlanSlot['state'], transaction: Knex = this.database): Promise<void> {
    await transaction('plan_slot').where({ id: slotId }).update({ state });
  }

  async findSlot(slotId: string): Promise<
    | {
        trialId: string;
        question: string;
        input: PlanInput;
        slot: PlanSlot;
        slots: PlanSlot[];
        riding: RidingDto;
      }
    | undefined
  > {
    const row = (await this.database('plan_slot as s')
      .join('plan as p', 'p.trial_id', 's.trial_id')
      .join('trial as t', 't.id', 's.trial_id')
      .select('s.trial_id', 'p.input', 't.question')
      .where('s.id', slotId)
      .first()) as { trial_id: string; input: unknown; question: string } | undefined;
    if (!row) return undefined;
    const slots = await this.slotsOf(row.trial_id);
    const slot = slots.find(({ id }) => id === slotId);
    if (!slot) return undefined;
    const { trial_id: trialId, question } = row;
    const riding = await this.ridingOf(trialId, slot.letter);
    return { trialId, question, input: planInputSchema.parse(row.input), slot, slots, riding };
  }

  /** How the arm of a slot is ridden; the trial's own way where the arm leaves it open. */
  private async ridingOf(trialId: string, letter: PlanSlot['letter']): Promise<RidingDto> {
    const row = (await this.database('trial as t')
      .join('trial_setup as ts', 'ts.trial_id', 't.id')
      .select('t.held_riding', 'ts.riding')
      .where({ 't.id': trialId, 'ts.position': LETTERS.indexOf(letter) })
      .first()) as { held_riding: unknown; riding: unknown } | undefined;
    return ridingOfArm(row?.held_riding, row?.riding);
  }

  /** Runs of all plans that are still to be ridden, in riding order; plans last worked on first. */
  async openSlots(): Promise<OpenSlot[]> {
    const rows = await this.database
      .with('numbered', (slots) =>
        slots
          .from('plan_slot')
          .select('*')
          .select(
            this.database.raw('row_number() over (partition by trial_id order by outing, position)::int as number'),
          ),
      )
      .from('numbered as s')
      .join('plan as p', 'p.trial_id', 's.trial_id')
      .join('trial as t', 't.id', 's.trial_id')
      .join('trial_setup as ts', (join) => join.on('ts.trial_id', 's.trial_id').andOn('ts.position', 's.arm'))
      .join('setup_revision as rev', 'rev.id', 's.revision_id')
      .join('setup', 'setup.id', 'rev.setup_id')
      .whereNull('t.archived_at')
      .where('s.state', 'planned')
      .orderBy([{ column: 'p.updated_at', order: 'desc' }, 's.outing', 's.position'])
      .limit(MAX_OPEN_SLOTS)
      .select<OpenSlotRow[]>(
        's.id',
        's.trial_id',
        't.question',
        's.outing',
        's.number',
        's.revision_id',
        's.arm',
        's.test',
        's.direction',
        'setup.name as setup',
        'p.input',
        't.held_riding',
        'ts.riding',
      );
    return rows.flatMap((row) => {
      const test = planInputSchema.parse(row.input).tests[row.test];
      if (!test) return [];
      const riding = ridingOfArm(row.held_riding, row.riding);
      return [
        {
          slotId: row.id,
          trialId: row.trial_id,
          question: row.question,
          letter: LETTERS[row.arm]!,
          setup: row.setup,
          revisionId: row.revision_id,
          courseId: test.courseId,
          testKind: test.testKind,
          direction: row.direction,
          riding: {
            ...riding,
            way: riding.way ?? test.effort,
            level: riding.level || test.level,
            laps: riding.laps ?? test.laps,
          },
          outing: row.outing,
          number: row.number,
        },
      ];
    });
  }

  /** Trials that have a plan with runs still to be ridden, newest first. */
  async trialsToRide(): Promise<{ id: string; question: string; input: PlanInput }[]> {
    const rows = (await this.database('plan as p')
      .join('trial as t', 't.id', 'p.trial_id')
      .select('t.id', 't.question', 'p.input')
      .whereNull('t.archived_at')
      .whereRaw("exists (select from plan_slot s where s.trial_id = p.trial_id and s.state = 'planned')")
      .orderBy('p.updated_at', 'desc')) as { id: string; question: string; input: unknown }[];
    return rows.map(({ id, question, input }) => ({ id, question, input: planInputSchema.parse(input) }));
  }
}
