import { openRiding, type RidingDto, type RunAssignment } from '@ebrix/contract';

/** What a form holds of an assignment: anything may be missing yet. */
export type AssignmentValues = Partial<Omit<RunAssignment, 'gauge' | 'riding'>> & {
  readonly riding?: Partial<RunAssignment['riding']> | undefined;
  readonly gauge?: Partial<NonNullable<RunAssignment['gauge']>> | null | undefined;
};

/** The form's values as the API takes them: what was left empty is unknown, a gauge counts only when it is whole. */
export function toAssignment(values: AssignmentValues): RunAssignment {
  // The form's rules let none of the first three be empty.
  const { setupRevisionId = '', courseId = '', outingId = '' } = values;
  const { start, end, bars } = values.gauge ?? {};
  const isWhole = typeof start === 'number' && typeof end === 'number' && typeof bars === 'number';
  return {
    setupRevisionId,
    courseId,
    outingId,
    riderId: values.riderId ?? null,
    loggerId: values.loggerId ?? null,
    testKind: values.testKind ?? 'range',
    totalMassKg: values.totalMassKg ?? null,
    emptied: values.emptied ?? false,
    isPartWay: values.isPartWay ?? false,
    gauge: isWhole ? { start, end, bars } : null,
    ruleOfThumbWhPerKm: values.ruleOfThumbWhPerKm ?? null,
    riding: toRiding(values.riding),
    tyrePressureBar: values.tyrePressureBar ?? null,
    perceivedEffort: values.perceivedEffort ?? null,
    wheelFactor: values.wheelFactor ?? null,
    notes: values.notes ?? '',
    direction: values.direction ?? 1,
    slotId: values.slotId ?? null,
    manualReadings: values.manualReadings ?? null,
    logSpan: values.logSpan ?? null,
  };
}

/** A way of riding as the form holds it: what was left empty, or taken away again, is not said. */
export function toRiding(values: Partial<RidingDto> | undefined): RidingDto {
  const { way, level, gear, payloadKg, limitMode, laps } = values ?? {};
  return {
    way: way ?? openRiding.way,
    level: level ?? openRiding.level,
    gear: gear ?? openRiding.gear,
    payloadKg: payloadKg ?? openRiding.payloadKg,
    limitMode: limitMode ?? openRiding.limitMode,
    laps: laps ?? openRiding.laps,
  };
}
