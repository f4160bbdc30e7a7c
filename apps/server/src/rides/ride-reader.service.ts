import { Injectable } from '@nestjs/common';
import { fullVoltageV } from '@ebrix/core/bench';
import { timedSection } from '@ebrix/core/courses';
import { SequenceLedger } from '@ebrix/core/logger';
import type { Ride } from '@ebrix/contract';
import { notFound } from '../common/domain-error.js';
import { CourseRepository } from '../courses/course.repository.js';
import { LoggerHub } from '../loggers/logger-hub.js';
import { SessionRepository } from '../loggers/session.repository.js';
import { PlanRepository } from '../plans/plan.repository.js';
import { SetupRepository } from '../setups/setup.repository.js';
import { SetupService } from '../setups/setup.service.js';
import { RideMarkRepository } from './ride-mark.repository.js';
import type { StoredRide } from './ride-row.js';
import { RideRepository } from './ride.repository.js';

/** A ride as the console shows it. */
@Injectable()
export class RideReader {
  constructor(
    private readonly rides: RideRepository,
    private readonly marks: RideMarkRepository,
    private readonly plans: PlanRepository,
    private readonly courses: CourseRepository,
    private readonly setupRepository: SetupRepository,
    private readonly setups: SetupService,
    private readonly hub: LoggerHub,
    private readonly sessions: SessionRepository,
  ) {}

  async get(id: string): Promise<Ride> {
    return this.complete(await this.stored(id));
  }

  /** Fails: `not-found`. */
  async stored(id: string): Promise<StoredRide> {
    const ride = await this.rides.find(id);
    if (!ride) throw notFound('This ride');
    return ride;
  }

  /** With its plan, course, marks, clearance and logger, as they are now. */
  async complete(ride: StoredRide): Promise<Ride> {
    const { slotId, courseId, sessionId, fromT: _from, toT: _to, startDistanceM: _start, ...shown } = ride;
    const [planned, [course], marks, clearances, facts] = await Promise.all([
      slotId === null ? undefined : this.plans.findSlot(slotId),
      this.courses.list(courseId),
      this.marks.marksOf(ride.id),
      this.setups.clearances([ride.setup.revisionId]),
      this.setupRepository.findFacts([ride.setup.revisionId]),
    ]);
    const live = sessionId === null ? undefined : this.hub.find(sessionId);
    const session = live?.toDto() ?? (sessionId === null ? null : await this.storedSession(sessionId));
    const pack = facts.get(ride.setup.revisionId)?.parts.packs[0];
    const timed = course?.lengthM ? timedSection(course.gates, course.lengthM, ride.direction) : undefined;
    return {
      ...shown,
      slot: planned
        ? {
            id: planned.slot.id,
            trialId: planned.trialId,
            question: planned.question,
            letter: planned.slot.letter,
            outing: planned.slot.outing,
            number: planned.slots.findIndex(({ id }) => id === planned.slot.id) + 1,
            of: planned.slots.length,
          }
        : null,
      openClearance: clearances.get(ride.setup.revisionId)?.openClearance ?? 0,
      course: {
        id: courseId,
        name: course?.name ?? '',
        lengthM: course?.lengthM ?? null,
        startM: timed?.startM ?? null,
        finishM: timed?.finishM ?? null,
        cautions: course?.cautions ?? '',
        temperatureStopsM: (course?.gates ?? [])
          .filter(({ kind }) => kind === 'temperature-stop')
          .map(({ distanceM }) => (ride.direction === 1 ? distanceM : (course?.lengthM ?? 0) - distanceM)),
      },
      fullVoltageV: pack ? fullVoltageV(pack) : null,
      marks,
      session,
    };
  }

  private async storedSession(id: string): Promise<Ride['session']> {
    const session = await this.sessions.find({ 's.id': id });
    if (!session) return null;
    const ledger = new SequenceLedger(await this.sessions.rangesOf(id));
    return {
      id,
      logger: { id: session.loggerId, name: session.loggerName },
      session: session.name,
      samples: ledger.count,
      duplicates: session.duplicates,
      late: session.late,
      bad: session.bad,
      missing: ledger.missing(),
      lastSeenAt: session.lastSeenAt.toISOString(),
      isConnected: false,
      isEnded: session.isEnded,
      badLines: [...session.badLines],
    };
  }
}
