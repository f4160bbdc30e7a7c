import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { refusalOfStep, timesOfStep, USUAL_LIMITS, type RideState, type StepTimes } from '@ebrix/core/ride';
import { preparationSchema, type NewRide, type Ride, type RideChange, type RideStep } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { Clock } from '../common/clock.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { CourseRepository } from '../courses/course.repository.js';
import { KNEX } from '../database/database.module.js';
import { LoggerHub } from '../loggers/logger-hub.js';
import { PlanRepository } from '../plans/plan.repository.js';
import { SetupRepository } from '../setups/setup.repository.js';
import { SetupService } from '../setups/setup.service.js';
import { OVER, UNDER_WAY } from './ride-states.js';
import { RunOfRideService } from './run-of-ride.service.js';
import { RideReader } from './ride-reader.service.js';
import type { StoredRide } from './ride-row.js';
import { RideRepository, type RideStepValues, type RideToStore } from './ride.repository.js';

@Injectable()
export class RideService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly rides: RideRepository,
    private readonly plans: PlanRepository,
    private readonly courses: CourseRepository,
    private readonly reader: RideReader,
    private readonly setupRepository: SetupRepository,
    private readonly setups: SetupService,
    private readonly hub: LoggerHub,
    private readonly runs: RunOfRideService,
    private readonly clock: Clock,
  ) {}

  /** Begins a planned run (or gives back the ride that another phone began of it), or a free one. */
  async begin(input: NewRide): Promise<Ride> {
    const ride = 'slotId' in input ? await this.ofSlot(input.slotId) : await this.free(input);
    if (typeof ride === 'string') return this.reader.get(ride);
    const id = await this.database.transaction(async (transaction) => {
      const inserted = await this.rides.insert(ride, transaction);
      if (inserted && ride.slotId !== null) {
        await transaction('plan_slot')
          .where({ id: ride.slotId })
          .update({
            state: 'underway',
            // An earlier run of the same outing is still to be ridden: valid, and marked.
            is_out_of_order: transaction.raw(
              `exists (select from plan_slot p where p.trial_id = plan_slot.trial_id and p.state = 'planned'
                and (p.outing, p.position) < (plan_slot.outing, plan_slot.position))`,
            ),
          });
      }
      return inserted;
    });
    const found = id ?? (ride.slotId === null ? undefined : await this.rides.findOfSlot(ride.slotId));
    if (found === undefined)
      throw new DomainError('wrong-state', 'This planned run was begun and ended elsewhere meanwhile.');
    return this.reader.get(found);
  }

  /** A ride of a planned run as it would begin; the id of the one that is under way already. Fails: `wrong-state` for one that was ridden. */
  async ofSlot(slotId: string): Promise<RideToStore | string> {
    const found = await this.plans.findSlot(slotId);
    if (!found) throw notFound('This planned run');
    const { slot, input, riding } = found;
    const underWay = await this.rides.findOfSlot(slotId);
    if (underWay !== undefined) return underWay;
    if (slot.state === 'ridden') throw new DomainError('wrong-state', 'This planned run was ridden already.');
    const test = input.tests[slot.test]!;
    return this.prepared({
      slotId,
      revisionId: slot.revisionId,
      courseId: test.courseId,
      testKind: test.testKind,
      direction: slot.direction,
      level: riding.level || test.level,
      effort: riding.way ?? test.effort,
      laps: riding.laps ?? test.laps,
      isPartWay: test.isPartWay,
    });
  }

  /** A free ride as it would begin. */
  async free(input: Exclude<NewRide, { slotId: string }>): Promise<RideToStore> {
    if ((await this.courses.list(input.courseId)).length === 0) throw notFound('The chosen course');
    return this.prepared({ slotId: null, ...input });
  }

  /** With what stays from ride to ride: rider, logger and the weather of the last hours. */
  private async prepared({
    isPartWay = false,
    ...ride
  }: Pick<
    RideToStore,
    'courseId' | 'direction' | 'effort' | 'laps' | 'level' | 'revisionId' | 'slotId' | 'testKind'
  > & { readonly isPartWay?: boolean }): Promise<RideToStore> {
    const facts = (await this.setupRepository.findFacts([ride.revisionId])).get(ride.revisionId);
    if (!facts) throw notFound('The chosen setup');
    const [last] = await this.rides.list([...UNDER_WAY, ...OVER], 1);
    const isRecent = last && this.clock.now().getTime() - Date.parse(last.createdAt) < 12 * 3600 * 1000;
    const { kit } = facts.parts;
    const cutoffV = facts.settings.cutoffV ?? kit?.cutoffV ?? null;
    const weather = isRecent ? last.preparation : undefined;
    return {
      ...ride,
      ...(kit === null && { effort: 'off' as const, level: '' }),
      outingId: null,
      riderId: isRecent ? (last.rider?.id ?? null) : null,
      loggerId: isRecent && last.logger ? await this.unlessInUse(last.logger.id) : null,
      limits: { ...USUAL_LIMITS, packV: cutoffV },
      preparation: preparationSchema.parse(
        weather
          ? {
              isPartWay,
              airTemperatureC: weather.airTemperatureC,
              windMps: weather.windMps,
              windFromDeg: weather.windFromDeg,
              airPressureHpa: weather.airPressureHpa,
              tyrePressureBar: weather.tyrePressureBar,
            }
          : { isPartWay },
      ),
    };
  }

  /** A logger that rides elsewhere is not proposed. */
  private async unlessInUse(loggerId: string): Promise<string | null> {
    return (await this.rides.ofLogger(loggerId)).length === 0 ? loggerId : null;
  }

  async change(id: string, { version, ...change }: RideChange): Promise<Ride> {
    const before = await this.reader.stored(id);
    if (OVER.includes(before.state))
      throw new DomainError('wrong-state', 'This ride is over. Correct its run instead.');
    if (change.loggerId !== undefined && before.state !== 'preparing' && before.state !== 'armed')
      throw new DomainError('wrong-state', 'The ride has begun: its logger stays. Abort it to ride with another one.');
    const isChanged = await this.database.transaction(async (transaction) => {
      if (before.state === 'armed' && change.loggerId) {
        const logger = await this.rides.loggerNamed(change.loggerId, transaction);
        if (logger) await this.requireFree(logger, id, transaction);
      }
      return this.rides.change(id, version, change, transaction);
    });
    if (isChanged && change.loggerId) await this.bindSession(id, change.loggerId);
    const current = await this.reader.get(id);
    if (!isChanged) throw changedMeanwhile(current);
    return current;
  }

  private async bindSession(rideId: string, loggerId: string): Promise<void> {
    const session = this.hub.sendingOf(loggerId);
    if (session) await this.rides.bind(rideId, session.id);
  }

  /** Goes on to another state. Fails: `changed-meanwhile` when another phone did, `gates-open`, `reason-needed`, `wrong-state`. */
  async step(id: string, { from, to, reason }: RideStep): Promise<Ride> {
    const ride = await this.reader.stored(id);
    if (ride.state !== from) throw changedMeanwhile(await this.reader.complete(ride));
    const { setup, startedAt } = ride;
    const clearance = to === 'armed' ? (await this.setups.clearances([setup.revisionId])).get(setup.revisionId) : null;
    const refusal = refusalOfStep(
      { state: from, startedAt, openClearance: clearance?.openClearance ?? 0, setupName: setup.name },
      to,
      reason,
    );
    if (refusal) throw new DomainError(refusal.code, refusal.message, refusalDetails(refusal.code, setup.id));
    const now = this.clock.now();
    switch (to) {
      case 'armed':
        return this.arm(ride, from);
      case 'running':
        if (from === 'finished') await this.goOn(ride);
        else await this.run(ride, now);
        break;
      case 'finished':
        await this.transition(id, from, to, stepValues(timesOfStep(from, to, now.toISOString(), this.newestT(ride))));
        break;
      case 'kept':
        await this.runs.make(ride);
        break;
      case 'repeated':
      case 'aborted':
        await this.database.transaction(async (transaction) => {
          if (
            !(await this.rides.step(
              id,
              from,
              to,
              { reason: reason ?? '', ...stepValues(timesOfStep(from, to, now.toISOString(), undefined)) },
              transaction,
            ))
          )
            throw new DomainError('changed-meanwhile', 'Another phone moved this ride on meanwhile.');
          if (ride.slotId !== null) await this.plans.setState(ride.slotId, 'planned', transaction);
        });
        break;
      case 'preparing':
        await this.transition(id, from, to, {});
    }
    return this.reader.get(id);
  }

  /** Finished by mistake: it runs on, unless its logger is with another ride by now. */
  private async goOn(ride: StoredRide): Promise<void> {
    await this.database.transaction(async (transaction) => {
      if (ride.logger) await this.requireFree(ride.logger, ride.id, transaction);
      if (
        !(await this.rides.step(
          ride.id,
          'finished',
          'running',
          stepValues(timesOfStep('finished', 'running', '', undefined)),
          transaction,
        ))
      )
        throw new DomainError('changed-meanwhile', 'Another phone moved this ride on meanwhile.');
    });
  }

  private async arm(ride: StoredRide, from: RideState): Promise<Ride> {
    await this.database.transaction(async (transaction) => {
      if (ride.logger) await this.requireFree(ride.logger, ride.id, transaction);
      if (!(await this.rides.step(ride.id, from, 'armed', {}, transaction)))
        throw new DomainError('changed-meanwhile', 'Another phone moved this ride on meanwhile.');
    });
    if (ride.logger) await this.bindSession(ride.id, ride.logger.id);
    return this.reader.get(ride.id);
  }

  /** One logger feeds one ride, else one is made of what was measured on another. Held against two phones at once. */
  private async requireFree(
    logger: { readonly id: string; readonly name: string },
    rideId: string,
    transaction: Knex,
  ): Promise<void> {
    await transaction.raw('select pg_advisory_xact_lock(hashtext(?))', [`logger ${logger.id}`]);
    const other = (await this.rides.ofLogger(logger.id, transaction)).find(({ id }) => id !== rideId);
    if (other)
      throw new DomainError(
        'logger-in-use',
        `${logger.name} is with another ride, of ${other.setup.name}, which is ${other.state}. Finish or abort that one, or choose another logger.`,
        { rideId: other.id },
      );
  }

  /** The start, by a tap: a log, if there is one, begins a moment before. */
  private async run(ride: StoredRide, at: Date, loggerT?: number): Promise<void> {
    const session = ride.sessionId === null ? undefined : this.hub.find(ride.sessionId);
    const t = loggerT ?? session?.newest?.t;
    await this.transition(ride.id, 'armed', 'running', {
      ...stepValues(timesOfStep('armed', 'running', at.toISOString(), t)),
      startDistanceM: distanceOf(session?.values.get('distance')),
    });
  }

  /** By the logger: the bike moves, so an armed ride runs; or it says that it ends. */
  async onLogger(kind: 'ended' | 'moved' | 'opened', loggerId: string, sessionId: string, t: number): Promise<void> {
    const [ride] = await this.rides.ofLogger(loggerId);
    if (ride) {
      if (ride.sessionId !== sessionId && (kind === 'opened' || ride.state === 'armed'))
        await this.rides.bind(ride.id, sessionId);
      const bound = { ...ride, sessionId };
      if (kind === 'moved' && ride.state === 'armed') await this.run(bound, this.clock.now(), t).catch(ignoreOvertaken);
      if (kind === 'ended' && ride.state === 'running' && ride.sessionId === sessionId)
        await this.transition(ride.id, 'running', 'finished', { finishedAt: this.clock.now(), toT: t }).catch(
          ignoreOvertaken,
        );
    }
  }

  private newestT(ride: StoredRide): number | undefined {
    return ride.sessionId === null ? undefined : this.hub.find(ride.sessionId)?.newest?.t;
  }

  private async transition(id: string, from: RideState, to: RideState, values: RideStepValues): Promise<void> {
    if (!(await this.rides.step(id, from, to, values))) throw changedMeanwhile(await this.reader.get(id));
  }
}

/** Two phones, or a tap and the bike itself, may start a ride at the same moment: the first counts. */
function ignoreOvertaken(error: unknown): void {
  if (!(error instanceof DomainError && error.code === 'changed-meanwhile')) throw error;
}

function distanceOf(km: number | undefined): number | null {
  return km === undefined ? null : km * 1000;
}

function stepValues({ startedAt, finishedAt, ...rest }: StepTimes): RideStepValues {
  return {
    ...rest,
    ...(startedAt !== undefined && { startedAt: new Date(startedAt) }),
    ...(finishedAt !== undefined && { finishedAt: finishedAt === null ? null : new Date(finishedAt) }),
  };
}

function refusalDetails(code: string, setupId: string): { setupId: string } | undefined {
  return code === 'clearance-open' ? { setupId } : undefined;
}
