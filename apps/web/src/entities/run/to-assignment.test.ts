import { runAssignmentSchema } from '@ebrix/contract';
import { toAssignment } from './to-assignment.js';

const ids = {
  setupRevisionId: '01900000-0000-7000-8000-000000000001',
  courseId: '01900000-0000-7000-8000-000000000002',
  outingId: '01900000-0000-7000-8000-000000000003',
};

describe('what a form says of a ride', () => {
  it('is taken by the API with everything else left empty', () => {
    const assignment = toAssignment(ids);
    expect(runAssignmentSchema.parse(assignment)).toEqual(assignment);
    expect(assignment).toMatchObject({
      riderId: null,
      totalMassKg: null,
      emptied: false,
      gauge: null,
      ruleOfThumbWhPerKm: null,
    });
  });

  it('counts a gauge only when all three of its numbers are there', () => {
    expect(toAssignment({ ...ids, gauge: { start: 4, bars: 4 } }).gauge).toBeNull();
    expect(toAssignment({ ...ids, gauge: { start: 4, end: 1, bars: 4 } }).gauge).toEqual({ start: 4, end: 1, bars: 4 });
  });

  it('is refused when the gauge gained charge on the way', () => {
    const odd = toAssignment({ ...ids, gauge: { start: 1, end: 3, bars: 4 } });
    expect(runAssignmentSchema.safeParse(odd).success).toBe(false);
  });
});
