import type { RideState } from '@ebrix/core/ride';
import { afterRideSchema, preparationSchema, type Ride } from '@ebrix/contract';
import { iso, isoOrNull } from '../common/row.js';

/** A ride with the names of what it refers to, as selected. */
export interface RideRow {
  id: string;
  version: number;
  created_at: Date;
  state: RideState;
  slot_id: string | null;
  revision_id: string;
  course_id: string;
  test_kind: Ride['testKind'];
  direction: Ride['direction'];
  level: string;
  effort: Ride['effort'];
  laps: number;
  outing_id: string | null;
  rider_id: string | null;
  logger_id: string | null;
  session_id: string | null;
  preparation: unknown;
  after: unknown;
  limits: Ride['limits'];
  started_at: Date | null;
  finished_at: Date | null;
  from_t: number | null;
  to_t: number | null;
  start_distance_m: number | null;
  reason: string;
  run_id: string | null;
  setup_id: string;
  setup_name: string;
  revision_number: number;
  outing_title: string | null;
  outing_date: string | null;
  rider_name: string | null;
  logger_name: string | null;
  import_status: string | null;
  import_problem: { message: string } | null;
}

/** A ride as stored, before its course, setup and logger were looked at. */
export interface StoredRide extends Omit<
  Ride,
  'course' | 'fullVoltageV' | 'marks' | 'openClearance' | 'session' | 'slot'
> {
  readonly slotId: string | null;
  readonly courseId: string;
  readonly sessionId: string | null;
  readonly fromT: number | null;
  readonly toT: number | null;
  readonly startDistanceM: number | null;
}

export function toRide(row: RideRow): StoredRide {
  return {
    id: row.id,
    version: row.version,
    state: row.state,
    createdAt: iso(row.created_at),
    slotId: row.slot_id,
    courseId: row.course_id,
    sessionId: row.session_id,
    fromT: row.from_t,
    toT: row.to_t,
    startDistanceM: row.start_distance_m,
    setup: { id: row.setup_id, name: row.setup_name, revisionId: row.revision_id, revisionNumber: row.revision_number },
    testKind: row.test_kind,
    direction: row.direction,
    level: row.level,
    effort: row.effort,
    laps: row.laps,
    outing: row.outing_id === null ? null : { id: row.outing_id, title: row.outing_title!, date: row.outing_date! },
    rider: row.rider_id === null ? null : { id: row.rider_id, name: row.rider_name! },
    logger: row.logger_id === null ? null : { id: row.logger_id, name: row.logger_name! },
    preparation: preparationSchema.parse(row.preparation),
    after: afterRideSchema.parse(row.after),
    limits: row.limits,
    startedAt: isoOrNull(row.started_at),
    finishedAt: isoOrNull(row.finished_at),
    reason: row.reason,
    runId: row.run_id,
    conversion:
      row.run_id !== null || row.import_status === null
        ? null
        : { status: row.import_status, message: row.import_problem?.message ?? '' },
  };
}
