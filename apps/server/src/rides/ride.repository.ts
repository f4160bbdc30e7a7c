import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { RideState } from '@ebrix/core/ride';
import { afterRideSchema, type AfterRide, type Preparation, type Ride } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';
import { toRide, type RideRow, type StoredRide } from './ride-row.js';
import { CHANGE_CHANNELS } from '../database/change-notifications.js';

export interface RideToStore {
  readonly slotId: string | null;
  readonly revisionId: string;
  readonly courseId: string;
  readonly testKind: Ride['testKind'];
  readonly direction: Ride['direction'];
  readonly level: string;
  readonly effort: Ride['effort'];
  readonly laps: number;
  readonly outingId: string | null;
  readonly riderId: string | null;
  readonly loggerId: string | null;
  readonly limits: Ride['limits'];
  readonly preparation: Preparation;
}
export interface RideStepValues {
  readonly startedAt?: Date;
  readonly finishedAt?: Date | null;
  readonly fromT?: number | null;
  readonly toT?: number | null;
  readonly startDistanceM?: number | null;
  readonly sessionId?: string | null;
  readonly reason?: string;
  readonly outingId?: string;
}

@Injectable()
export class RideRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  /** Undefined when another ride of the same slot is under way already. */
  async insert(ride: RideToStore, transaction: Knex): Promise<string | undefined> {
    const id = uuidv7();
    const rows = await transaction('ride')
      .insert({
        id,
        ...columnsOf(ride),
        after: JSON.stringify(afterRideSchema.parse({})),
      })
      .onConflict(transaction.raw("(slot_id) where state in ('preparing','armed','running','finished')") as never)
      .ignore()
      .returning('id');
    return rows.length > 0 ? id : undefined;
  }

  /** A ride that was led elsewhere, as it ended there: `finished` where a run is still to be made of it. */
  async insertLed(
    id: string,
    state: 'aborted' | 'finished' | 'repeated',
    ride: RideToStore & Omit<RideStepValues, 'outingId'> & { readonly after: AfterRide; readonly createdAt: Date },
    transaction: Knex,
  ): Promise<void> {
    await transaction('ride').insert({
      id,
      state,
      ...columnsOf(ride),
      after: JSON.stringify(ride.after),
      created_at: ride.createdAt,
      started_at: ride.startedAt ?? null,
      finished_at: ride.finishedAt ?? null,
      from_t: ride.fromT ?? null,
      to_t: ride.toT ?? null,
      session_id: ride.sessionId ?? null,
      reason: ride.reason ?? '',
    });
    await this.notify(id, transaction);
  }

  async find(id: string, database: Knex = this.database): Promise<StoredRide | undefined> {
    return (await this.select((query) => void query.where('r.id', id), database))[0];
  }

  /** Holds the ride for the rest of the transaction: marks and steps of other phones wait. */
  async lock(id: string, transaction: Knex): Promise<StoredRide | undefined> {
    await transaction('ride').select('id').where({ id }).forUpdate();
    return this.find(id, transaction);
  }

  async markSimulated(id: string, transaction: Knex): Promise<void> {
    await transaction('ride').where({ id }).update({ is_simulated: true });
  }

  async findOfSlot(slotId: string): Promise<string | undefined> {
    const row = await this.database('ride')
      .select<{ id: string }[]>('id')
      .where({ slot_id: slotId })
      .whereIn('state', ['preparing', 'armed', 'running', 'finished'])
      .first();
    return row?.id;
  }

  /** Rides that wait for a logger or run with it, the one that it feeds first. */
  async ofLogger(loggerId: string, database: Knex = this.database): Promise<StoredRide[]> {
    return this.select(
      (query) =>
        void query
          .where('r.logger_id', loggerId)
          .whereIn('r.state', ['armed', 'running'])
          .orderByRaw("r.state = 'running' desc, r.created_at desc"),
      database,
    );
  }

  async loggerNamed(id: string, database: Knex): Promise<{ id: string; name: string } | undefined> {
    return database<{ id: string; name: string }>('logger').select('id', 'name').where({ id }).first();
  }

  async list(states: readonly RideState[], limit: number): Promise<StoredRide[]> {
    return this.select(
      (query) =>
        void query
          .whereIn('r.state', [...states])
          .orderBy('r.created_at', 'desc')
          .limit(limit),
    );
  }

  private async select(
    narrow: (query: Knex.QueryBuilder) => void,
    database: Knex = this.database,
  ): Promise<StoredRide[]> {
    const query = database('ride as r')
      .join('setup_revision as rev', 'rev.id', 'r.revision_id')
      .join('setup as s', 's.id', 'rev.setup_id')
      .leftJoin('outing as o', 'o.id', 'r.outing_id')
      .leftJoin('rider as p', 'p.id', 'r.rider_id')
      .leftJoin('logger as l', 'l.id', 'r.logger_id')
      .joinRaw(
        'left join lateral (select status, problem from import_file where ride_id = r.id order by created_at desc limit 1) as i on true',
      )
      .select(
        'r.*',
        's.id as setup_id',
        's.name as setup_name',
        'rev.number as revision_number',
        'o.title as outing_title',
        'o.date as outing_date',
        'p.name as rider_name',
        'l.name as logger_name',
        'i.status as import_status',
        'i.problem as import_problem',
      );
    narrow(query);
    return ((await query) as RideRow[]).map(toRide);
  }

  async change(
    id: string,
    version: number,
    change: {
      preparation?: Preparation | undefined;
      after?: AfterRide | undefined;
      limits?: Ride['limits'] | undefined;
      riderId?: string | null | undefined;
      loggerId?: string | null | undefined;
      outingId?: string | null | undefined;
    },
    database: Knex = this.database,
  ): Promise<boolean> {
    return database.transaction(async (transaction) => {
      const count = await transaction('ride')
        .where({ id, version })
        .update({
          version: version + 1,
          updated_at: transaction.fn.now(),
          ...(change.preparation && { preparation: JSON.stringify(change.preparation) }),
          ...(change.after && { after: JSON.stringify(change.after) }),
          ...(change.limits && { limits: JSON.stringify(change.limits) }),
          ...(change.riderId !== undefined && { rider_id: change.riderId }),
          ...(change.loggerId !== undefined && {
            logger_id: change.loggerId,
            // What another logger sent is not of this ride.
            session_id: transaction.raw('case when logger_id is distinct from ? then null else session_id end', [
              change.loggerId,
            ]),
          }),
          ...(change.outingId !== undefined && { outing_id: change.outingId }),
        });
      if (count > 0) await this.notify(id, transaction);
      return count > 0;
    });
  }

  /** False when the ride is no longer in the state it was seen in. */
  async step(
    id: string,
    from: RideState,
    to: RideState,
    values: RideStepValues,
    transaction: Knex = this.database,
  ): Promise<boolean> {
    const count = await transaction('ride')
      .where({ id, state: from })
      .update({
        state: to,
        version: transaction.raw('version + 1'),
        updated_at: transaction.fn.now(),
        ...(values.startedAt && { started_at: values.startedAt }),
        ...(values.finishedAt !== undefined && { finished_at: values.finishedAt }),
        ...(values.fromT !== undefined && { from_t: values.fromT }),
        ...(values.toT !== undefined && { to_t: values.toT }),
        ...(values.startDistanceM !== undefined && { start_distance_m: values.startDistanceM }),
        ...(values.sessionId !== undefined && { session_id: values.sessionId }),
        ...(values.reason !== undefined && { reason: values.reason }),
        ...(values.outingId !== undefined && { outing_id: values.outingId }),
      });
    if (count > 0) await this.notify(id, transaction);
    return count > 0;
  }

  async bind(id: string, sessionId: string): Promise<void> {
    const count = await this.database('ride')
      .where({ id })
      .whereIn('state', ['armed', 'running'])
      .andWhereRaw('session_id is distinct from ?', [sessionId])
      .update({ session_id: sessionId, updated_at: this.database.fn.now() });
    if (count > 0) await this.notify(id, this.database);
  }

  /** The outing of an earlier ride of the same planned outing, on the same day. */
  async outingOfPlan(trialId: string, outing: number, day: string, transaction: Knex): Promise<string | undefined> {
    // Two runs of one outing kept at the same moment make one outing.
    await transaction.raw('select pg_advisory_xact_lock(hashtext(?))', [`outing ${trialId} ${outing} ${day}`]);
    const row = await transaction('ride as r')
      .join('plan_slot as s', 's.id', 'r.slot_id')
      .join('outing as o', 'o.id', 'r.outing_id')
      .select<{ id: string }[]>('o.id')
      .where({ 's.trial_id': trialId, 's.outing': outing })
      .andWhereRaw('o.date = ?::date', [day])
      .first();
    return row?.id;
  }

  /** Tells every window that a ride changed. */
  async touch(id: string, transaction: Knex): Promise<void> {
    await transaction('ride').where({ id }).update({ updated_at: transaction.fn.now() });
    await this.notify(id, transaction);
  }

  private async notify(id: string, transaction: Knex): Promise<void> {
    await transaction.raw('select pg_notify(?, ?)', [CHANGE_CHANNELS.ride, id]);
  }
}

function columnsOf(ride: RideToStore): Record<string, unknown> {
  return {
    slot_id: ride.slotId,
    revision_id: ride.revisionId,
    course_id: ride.courseId,
    test_kind: ride.testKind,
    direction: ride.direction,
    level: ride.level,
    effort: ride.effort,
    laps: ride.laps,
    outing_id: ride.outingId,
    rider_id: ride.riderId,
    logger_id: ride.loggerId,
    limits: JSON.stringify(ride.limits),
    preparation: JSON.stringify(ride.preparation),
  };
}
