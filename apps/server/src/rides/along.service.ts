import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { fullVoltageV } from '@ebrix/core/bench';
import { USUAL_LIMITS } from '@ebrix/core/ride';
import {
  afterRideSchema,
  preparationSchema,
  type AlongBundle,
  type AlongPlanned,
  type AlongRideInput,
  type Ride,
  type takeAlongSchema,
} from '@ebrix/contract';
import type { z } from 'zod';
import { PartsRepository } from '../bench/parts.repository.js';
import { Clock } from '../common/clock.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { CourseRepository } from '../courses/course.repository.js';
import { KNEX } from '../database/database.module.js';
import { LoggerHub } from '../loggers/logger-hub.js';
import { LoggerSecrets } from '../loggers/logger-secrets.js';
import { SessionRepository } from '../loggers/session.repository.js';
import { PlanRepository } from '../plans/plan.repository.js';
import { SetupRepository } from '../setups/setup.repository.js';
import { SetupService } from '../setups/setup.service.js';
import { alongCourse } from './along-course.js';
import { RideMarkRepository } from './ride-mark.repository.js';
import { RideReader } from './ride-reader.service.js';
import type { StoredRide } from './ride-row.js';
import { RideRepository, type RideToStore } from './ride.repository.js';
import { OVER } from './ride-states.js';
import { RideService } from './ride.service.js';
import { RunOfRideService } from './run-of-ride.service.js';

/** Of a way by positions, and of heights by satellites: what receivers of phones are usually within. */
const OF_A_PHONE = {
  voltageGain: null,
  currentGain: null,
  currentOffsetA: null,
  distanceGain: 0.015,
  altitudeM: 8,
  cadenceDelayS: null,
  calibration: '',
} as const;

/** Phones that lead rides where no server is: what they take along, and what they bring back. */
@Injectable()
export class AlongService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly rides: RideService,
    private readonly repository: RideRepository,
    private readonly marks: RideMarkRepository,
    private readonly reader: RideReader,
    private readonly runs: RunOfRideService,
    private readonly plans: PlanRepository,
    private readonly courses: CourseRepository,
    private readonly setups: SetupRepository,
    private readonly clearances: SetupService,
    private readonly parts: PartsRepository,
    private readonly secrets: LoggerSecrets,
    private readonly sessions: SessionRepository,
    private readonly hub: LoggerHub,
    private readonly clock: Clock,
  ) {}

  async take({ planned, phone }: z.output<typeof takeAlongSchema>): Promise<AlongBundle> {
    const slots = planned
      ? (await this.plans.slotsOf(planned.trialId)).filter(({ outing }) => outing === planned.outing)
      : [];
    if (planned && slots.length === 0) throw notFound('This planned outing');
    const open = slots.filter(({ state }) => state === 'planned');
    const courses = (await this.courses.list()).filter(({ archivedAt }) => archivedAt === null);
    const found = await Promise.all(open.map(({ id }) => this.plannedOf(id)));
    const question = open[0] ? (await this.plans.findSlot(open[0].id))?.question : undefined;
    return {
      takenAt: this.clock.now().toISOString(),
      title: planned ? `${question ?? 'Plan'}, outing ${planned.outing}` : 'Rides outside a plan',
      planned: found.filter((one) => one !== undefined),
      leftHere: slots.length - found.filter((one) => one !== undefined).length,
      setups: await this.setupsToRide(),
      courses: courses.map((course) => alongCourse(course, 1)),
      riders: (await this.parts.list('riders')).filter(({ archivedAt }) => archivedAt === null).map(named),
      blank: { preparation: preparationSchema.parse({}), after: afterRideSchema.parse({}) },
      logger: await this.phoneAsLogger(phone),
    };
  }

  private async plannedOf(slotId: string): Promise<AlongPlanned | undefined> {
    const ride = await this.rides.ofSlot(slotId);
    if (typeof ride === 'string') return undefined;
    const { setup, openClearance, slot, fullVoltageV: fullV } = await this.shown(ride);
    const [course] = await this.courses.list(ride.courseId);
    if (!course) return undefined;
    const { testKind, direction, level, effort, laps, limits, preparation } = ride;
    return {
      slot,
      setup,
      openClearance,
      testKind,
      direction,
      level,
      effort,
      laps,
      limits,
      preparation,
      fullVoltageV: fullV,
      course: alongCourse(course, direction),
      wheelCircumferenceM: await this.circumferenceOf(setup.revisionId),
    };
  }

  /** A ride that has not begun, as the console would show it. */
  private async shown(ride: RideToStore): Promise<Ride> {
    const setup = await this.setupOf(ride.revisionId);
    return this.reader.complete({
      id: ride.slotId ?? ride.revisionId,
      version: 0,
      state: 'preparing',
      createdAt: this.clock.now().toISOString(),
      slotId: ride.slotId,
      courseId: ride.courseId,
      sessionId: null,
      fromT: null,
      toT: null,
      startDistanceM: null,
      setup,
      testKind: ride.testKind,
      direction: ride.direction,
      level: ride.level,
      effort: ride.effort,
      laps: ride.laps,
      outing: null,
      rider: null,
      logger: null,
      preparation: ride.preparation,
      after: afterRideSchema.parse({}),
      limits: ride.limits,
      startedAt: null,
      finishedAt: null,
      reason: '',
      runId: null,
      conversion: null,
    });
  }

  private async setupOf(revisionId: string): Promise<Ride['setup']> {
    const setupId = await this.setups.findSetupOf(revisionId);
    const [setup] = setupId ? await this.setups.list(setupId) : [];
    const revision = setup?.revisions.find(({ id }) => id === revisionId);
    if (!setup || !revision) throw notFound('The chosen setup');
    return { id: setup.id, name: setup.name, revisionId, revisionNumber: revision.number };
  }

  private async circumferenceOf(revisionId: string): Promise<number | null> {
    return (await this.setups.findFacts([revisionId])).get(revisionId)?.parts.bike.wheelCircumferenceM ?? null;
  }

  private async setupsToRide(): Promise<AlongBundle['setups']> {
    const setups = (await this.setups.list()).filter(
      ({ archivedAt, revisions }) => archivedAt === null && revisions[0],
    );
    const ids = setups.map(({ revisions }) => revisions[0]!.id);
    const [facts, clearances] = await Promise.all([this.setups.findFacts(ids), this.clearances.clearances(ids)]);
    return setups.flatMap(({ id, name, revisions }) => {
      const [revision] = revisions;
      const own = facts.get(revision!.id);
      if (!own) return [];
      const [pack] = own.parts.packs;
      const { kit } = own.parts;
      return [
        {
          setup: { id, name, revisionId: revision!.id, revisionNumber: revision!.number },
          openClearance: clearances.get(revision!.id)?.openClearance ?? 0,
          limits: { ...USUAL_LIMITS, packV: own.settings.cutoffV ?? kit?.cutoffV ?? null },
          fullVoltageV: pack ? fullVoltageV(pack) : null,
          effort: kit === null ? ('off' as const) : ('steady' as const),
          wheelCircumferenceM: own.parts.bike.wheelCircumferenceM,
        },
      ];
    });
  }

  /** A phone is a logger of its own; its secret is made anew each time it takes something along. */
  private async phoneAsLogger(phone: string): Promise<AlongBundle['logger']> {
    const name = `Phone ${phone}`;
    const logger = await this.database.transaction(async (transaction) => {
      await transaction.raw('select pg_advisory_xact_lock(hashtext(?))', [`phone ${name.toLowerCase()}`]);
      const known = (await this.parts.list('loggers', transaction)).find(
        (one) => one.name.toLowerCase() === name.toLowerCase() && one.archivedAt === null,
      );
      return (
        known ?? this.parts.insert('loggers', { name, notes: 'Leads rides by itself.', ...OF_A_PHONE }, transaction)
      );
    });
    return { ...named(logger), secret: await this.secrets.renew(logger.id) };
  }

  /**
   * A ride that is over on a phone comes in: stored in one transaction, then made a run of where it was kept. Sent again it is found as it is;
   * one that was cut off between both is finished by the next sending.
   * Fails: `changed-meanwhile` where its planned run was ridden elsewhere, `not-there` where the plan or the lines are not.
   */
  async bring(id: string, input: AlongRideInput): Promise<Ride> {
    const known = await this.repository.find(id);
    if (!known) await this.store(id, input);
    const stored = await this.reader.stored(id);
    if (input.state === 'kept' && !OVER.includes(stored.state)) await this.makeOrLeave(stored);
    return this.reader.get(id);
  }

  /** A ride without a line or a reading is no run: it stays here as finished, where somebody can write down what is missing. */
  private async makeOrLeave(ride: StoredRide): Promise<void> {
    try {
      await this.runs.make(ride);
    } catch (error) {
      if (!(error instanceof DomainError && error.code === 'cannot-compute')) throw error;
    }
  }

  private async store(id: string, input: AlongRideInput): Promise<void> {
    await this.setupOf(input.revisionId);
    if ((await this.courses.list(input.courseId)).length === 0) throw notFound('The course of this ride');
    const sessionId = await this.sessionOf(input);
    const slotId = input.isBesidePlan ? null : input.slotId;
    const skewMs = this.clock.now().getTime() - Date.parse(input.sentAt);
    const here = (at: string): Date => new Date(Date.parse(at) + skewMs);
    const startedMs = input.startedAt === null ? null : Date.parse(input.startedAt);
    await this.database.transaction(async (transaction) => {
      // The same ride from two windows of the phone at once: the second finds it.
      await transaction.raw('select pg_advisory_xact_lock(hashtext(?))', [`ride ${id}`]);
      if (await this.repository.find(id, transaction)) return;
      if (slotId !== null) await this.claim(slotId, input, transaction);
      await this.repository.insertLed(
        id,
        input.state === 'kept' ? 'finished' : input.state,
        {
          slotId,
          revisionId: input.revisionId,
          courseId: input.courseId,
          testKind: input.testKind,
          direction: input.direction,
          level: input.level,
          effort: input.effort,
          laps: input.laps,
          outingId: null,
          riderId: await this.riderThatIsThere(input.riderId),
          loggerId: input.log?.loggerId ?? null,
          limits: input.limits,
          preparation: preparationSchema.parse(input.preparation),
          after: input.after,
          createdAt: here(input.createdAt),
          ...(input.startedAt !== null && { startedAt: here(input.startedAt) }),
          finishedAt: input.finishedAt === null ? null : here(input.finishedAt),
          fromT: input.fromT,
          toT: input.toT,
          sessionId,
          reason: input.reason,
        },
        transaction,
      );
      await this.marks.insertWithin(
        id,
        input.marks.map((mark) => ({
          ...mark,
          at: here(mark.at),
          elapsedS:
            mark.elapsedS ?? (startedMs === null ? null : Math.max(0, (Date.parse(mark.at) - startedMs) / 1000)),
        })),
        transaction,
      );
    });
  }

  /** The planned run of a ride, unless somebody else rode it. */
  private async claim(slotId: string, { state }: AlongRideInput, transaction: Knex): Promise<void> {
    const row = await transaction('plan_slot')
      .where({ id: slotId })
      .forUpdate()
      .first<{ state: string } | undefined>('state');
    if (!row)
      throw new DomainError(
        'not-there',
        'The plan was made anew, and this run is no longer in it. Bring the ride in beside the plan, or throw it away.',
      );
    if (row.state !== 'planned') {
      const other = await transaction('ride')
        .where({ slot_id: slotId })
        .whereNotIn('state', ['aborted', 'repeated'])
        .orderBy('created_at', 'desc')
        .first<{ id: string } | undefined>('id');
      throw new DomainError(
        'changed-meanwhile',
        'This planned run was ridden elsewhere meanwhile. Bring this ride in beside the plan, or throw it away: both cannot be the same run.',
        other && (await this.reader.get(other.id)),
      );
    }
    if (state === 'kept')
      await transaction('plan_slot')
        .where({ id: slotId })
        .update({
          state: 'underway',
          is_out_of_order: transaction.raw(
            `exists (select from plan_slot p where p.trial_id = plan_slot.trial_id and p.state = 'planned'
              and (p.outing, p.position) < (plan_slot.outing, plan_slot.position))`,
          ),
        });
  }

  private async sessionOf({ log }: AlongRideInput): Promise<string | null> {
    if (!log) return null;
    const session = await this.sessions.find({ 's.logger_id': log.loggerId, 's.name': log.session });
    if (!session) throw new DomainError('not-there', 'The lines of this ride have not come in yet. Send them first.');
    await this.hub.settle(session.id);
    return session.id;
  }

  private async riderThatIsThere(riderId: string | null): Promise<string | null> {
    return riderId !== null && (await this.parts.find('riders', riderId)) ? riderId : null;
  }
}

function named({ id, name }: { readonly id: string; readonly name: string }): { id: string; name: string } {
  return { id, name };
}
