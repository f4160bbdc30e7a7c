import type { RunAssignment } from '@ebrix/contract';

/** What a form holds of an assignment: anything may be missing yet. */
export type AssignmentValues = Partial<Omit<RunAssignment, 'gauge'>> & {
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
    gauge: isWhole ? { start, end, bars } : null,
    ruleOfThumbWhPerKm: values.ruleOfThumbWhPerKm ?? null,
    notes: values.notes ?? '',
    direction: values.direction ?? 1,
    slotId: values.slotId ?? null,
    manualReadings: values.manualReadings ?? null,
    logSpan: values.logSpan ?? null,
  };
}
