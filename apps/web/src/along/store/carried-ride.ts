import type { AlongBundle, AlongPlanned, AlongRideInput, RideMarkInput } from '@ebrix/contract';
import { afterEvent, isRefusal, type AlongEvent, type AlongRideCore, type StepRefusal } from '@ebrix/core/ride';

export type CarriedMark = RideMarkInput & { readonly isUndone: boolean };

/** A ride as the phone leads it; all of it is in the phone's own store. */
export interface CarriedRide extends Omit<AlongRideCore, 'marks'> {
  readonly planned: Omit<AlongPlanned, 'preparation'>;
  readonly riderId: string | null;
  readonly preparation: AlongRideInput['preparation'];
  readonly after: AlongBundle['blank']['after'];
  readonly marks: readonly CarriedMark[];
  readonly createdAt: string;
  /** How far the log had come when the ride began, m. */
  readonly startDistanceM: number;
  /** The zero of its log's seconds, ms since 1970 by the phone's clock. */
  readonly epochMs: number;
  readonly log: { readonly loggerId: string; readonly name: string; readonly secret: string } | null;
  /** What the phone feels is written down too. */
  readonly feels?: boolean;
  readonly hasFeltColumns?: boolean;
  /** Tried out at the table with a bike that is not there: it stays on this phone. */
  readonly isPractice?: boolean;
  /** It was led once: what came in then was of a bike, or was simulated, and stays that. */
  readonly wasLed?: boolean;
  /** When the first place of a climb's course was passed, s of the log: distances of its gates count from there. */
  readonly courseT?: number;
  readonly isBesidePlan: boolean;
  /** The server has it, as this run; null while it waits here. */
  readonly sent: { readonly at: string; readonly runId: string | null } | null;
  /** Why it did not go last time. */
  readonly problem: { readonly code: string; readonly message: string } | null;
}

/** Tests that have figures from it. */
const FELT_TESTS: ReadonlySet<AlongPlanned['testKind']> = new Set(['assist-response', 'stand']);

/** A ride that begins now. */
export function newRide(
  planned: AlongPlanned,
  log: CarriedRide['log'],
  { id, nowMs, after }: { readonly id: string; readonly nowMs: number; readonly after: CarriedRide['after'] },
): CarriedRide {
  const { preparation, ...rest } = planned;
  return {
    id,
    state: 'preparing',
    startedAt: null,
    finishedAt: null,
    fromT: null,
    toT: null,
    reason: '',
    openClearance: planned.openClearance,
    setupName: planned.setup.name,
    marks: [],
    planned: rest,
    riderId: null,
    preparation,
    after,
    createdAt: new Date(nowMs).toISOString(),
    startDistanceM: 0,
    epochMs: nowMs,
    log,
    hasFeltColumns: true,
    feels: FELT_TESTS.has(planned.testKind),
    isBesidePlan: false,
    sent: null,
    problem: null,
  };
}

/** After one more event, or why it stays as it is. */
export function advanced(ride: CarriedRide, event: AlongEvent): CarriedRide | StepRefusal {
  return afterEvent<CarriedRide & AlongRideCore>(ride, event);
}
export { isRefusal };

/** As it is sent. */
export function asInput(ride: CarriedRide, hasLines: boolean, nowMs: number): AlongRideInput {
  const { planned, state } = ride;
  const { fromT, startedAt } = fromCourse(ride);
  return {
    slotId: planned.slot?.id ?? null,
    isBesidePlan: ride.isBesidePlan,
    revisionId: planned.setup.revisionId,
    courseId: planned.course.id,
    testKind: planned.testKind,
    direction: planned.direction,
    level: planned.level,
    effort: planned.effort,
    laps: planned.laps,
    riderId: ride.riderId,
    log: hasLines && ride.log ? { loggerId: ride.log.loggerId, session: sessionOf(ride) } : null,
    limits: planned.limits,
    preparation: ride.preparation,
    after: ride.after as AlongRideInput['after'],
    state: state as AlongRideInput['state'],
    reason: ride.reason,
    createdAt: ride.createdAt,
    startedAt,
    finishedAt: ride.finishedAt,
    fromT: hasLines ? fromT : null,
    toT: hasLines ? ride.toT : null,
    marks: [...ride.marks],
    sentAt: new Date(nowMs).toISOString(),
  };
}

/** A climb that was come up to begins at the first place of its course, not where the bike moved off. */
function fromCourse({ fromT, toT, startedAt, courseT }: CarriedRide): Pick<CarriedRide, 'fromT' | 'startedAt'> {
  if (courseT === undefined || fromT === null || startedAt === null || courseT <= fromT || courseT >= (toT ?? Infinity))
    return { fromT, startedAt };
  return { fromT: courseT, startedAt: new Date(Date.parse(startedAt) + 1000 * (courseT - fromT)).toISOString() };
}

export function sessionOf({ id }: Pick<CarriedRide, 'id'>): string {
  return `along-${id}`;
}
