import type { PartOfOuting, RunAssignment } from '@ebrix/contract';

/** What a run is of, as stored. */
export interface AssignmentRow {
  setup_revision_id: string;
  course_id: string;
  outing_id: string;
  rider_id: string | null;
  logger_id: string | null;
  test_kind: RunAssignment['testKind'];
  total_mass_kg: number | null;
  emptied: boolean;
  is_part_way: boolean;
  gauge: RunAssignment['gauge'];
  rule_of_thumb_wh_per_km: number | null;
  notes: string;
  direction: RunAssignment['direction'];
  slot_id: string | null;
  manual_readings: RunAssignment['manualReadings'];
  from_s: number | null;
  to_s: number | null;
  tyre_pressure_bar: number | null;
  perceived_effort: number | null;
  wheel_factor: number | null;
  way: RunAssignment['riding']['way'];
  assist_level: string;
  gear: string;
  payload_kg: number | null;
  limit_mode: RunAssignment['riding']['limitMode'];
  laps: number | null;
}
export const ASSIGNMENT_COLUMNS = [
  'setup_revision_id',
  'course_id',
  'outing_id',
  'rider_id',
  'logger_id',
  'test_kind',
  'total_mass_kg',
  'emptied',
  'is_part_way',
  'gauge',
  'rule_of_thumb_wh_per_km',
  'notes',
  'direction',
  'slot_id',
  'manual_readings',
  'from_s',
  'to_s',
  'tyre_pressure_bar',
  'perceived_effort',
  'wheel_factor',
  'way',
  'assist_level',
  'gear',
  'payload_kg',
  'limit_mode',
  'laps',
] as const satisfies readonly (keyof AssignmentRow)[];

export function toAssignmentRow(a: RunAssignment): AssignmentRow {
  return {
    setup_revision_id: a.setupRevisionId,
    course_id: a.courseId,
    outing_id: a.outingId,
    rider_id: a.riderId,
    logger_id: a.loggerId,
    test_kind: a.testKind,
    total_mass_kg: a.totalMassKg,
    emptied: a.emptied,
    is_part_way: a.isPartWay ?? false,
    gauge: a.gauge,
    rule_of_thumb_wh_per_km: a.ruleOfThumbWhPerKm,
    notes: a.notes,
    direction: a.direction,
    slot_id: a.slotId,
    manual_readings: a.manualReadings,
    from_s: a.logSpan?.fromS ?? null,
    to_s: a.logSpan?.toS ?? null,
    tyre_pressure_bar: a.tyrePressureBar,
    perceived_effort: a.perceivedEffort,
    // Files queued before this was kept say nothing of it.
    wheel_factor: a.wheelFactor ?? null,
    ...toRidingColumns(a.riding),
  };
}

export function toAssignment(row: AssignmentRow): RunAssignment {
  return {
    setupRevisionId: row.setup_revision_id,
    courseId: row.course_id,
    outingId: row.outing_id,
    riderId: row.rider_id,
    loggerId: row.logger_id,
    testKind: row.test_kind,
    totalMassKg: row.total_mass_kg,
    emptied: row.emptied,
    isPartWay: row.is_part_way,
    gauge: row.gauge,
    ruleOfThumbWhPerKm: row.rule_of_thumb_wh_per_km,
    notes: row.notes,
    direction: row.direction,
    slotId: row.slot_id,
    manualReadings: row.manual_readings,
    logSpan: toLogSpan(row),
    tyrePressureBar: row.tyre_pressure_bar,
    perceivedEffort: row.perceived_effort,
    wheelFactor: row.wheel_factor,
    riding: toRiding(row),
  };
}

export type RidingColumns = Pick<AssignmentRow, 'assist_level' | 'gear' | 'laps' | 'limit_mode' | 'payload_kg' | 'way'>;
/** The columns of how a run was ridden, where runs are read under `r`. */
export const RIDING_SELECTION = [
  'r.way',
  'r.assist_level',
  'r.gear',
  'r.payload_kg',
  'r.limit_mode',
  'r.laps',
] as const;
export function toRiding(row: RidingColumns): RunAssignment['riding'] {
  return {
    way: row.way,
    level: row.assist_level,
    gear: row.gear,
    payloadKg: row.payload_kg,
    limitMode: row.limit_mode,
    laps: row.laps,
  };
}
export function toRidingColumns(riding: RunAssignment['riding']): RidingColumns {
  return {
    way: riding.way,
    assist_level: riding.level,
    gear: riding.gear,
    payload_kg: riding.payloadKg,
    limit_mode: riding.limitMode,
    laps: riding.laps,
  };
}

export function toLogSpan({ from_s: fromS, to_s: toS }: AssignmentRow): RunAssignment['logSpan'] {
  return fromS === null || toS === null ? null : { fromS, toS };
}

/** What the parts of a log are of: as the rest of it, but for what is given. Readings by hand of the whole are of none of several parts. */
export function assignmentsOfParts(whole: RunAssignment, parts: readonly PartOfOuting[]): RunAssignment[] {
  return parts.map((part) =>
    assignmentOfPart(parts.length > 1 ? { ...whole, gauge: null, manualReadings: null, emptied: false } : whole, part),
  );
}

function assignmentOfPart(whole: RunAssignment, part: PartOfOuting): RunAssignment {
  const { setupRevisionId, riding, slotId, ...rest } = part;
  return {
    ...whole,
    ...rest,
    setupRevisionId: setupRevisionId ?? whole.setupRevisionId,
    riding: riding ?? whole.riding,
    // Parts of before this was asked say nothing of it.
    slotId: slotId ?? null,
  };
}
