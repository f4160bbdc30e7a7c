import { CoreError } from '../errors/index.js';
import type { RideCourse } from './parameters.js';

export interface CourseProfile {
  /** m, at an along-track distance in m. */
  altitude(distanceM: number): number;
  /** Rise over run, as a share. */
  grade(distanceM: number): number;
  readonly gainPerLapM: number;
}

/**
 * Altitude and grade along the course; the last segment found is tried first, since a ride only goes on.
 *
 * Fails: throws `bad-course` where the points do not reach from 0 to the end of the course.
 */
export function makeCourseProfile({ profile, lengthM }: RideCourse): CourseProfile {
  const last = profile.at(-1);
  if (profile.length < 2 || !last || Math.abs(last.distanceM - lengthM) > 1)
    throw new CoreError('bad-course', 'the profile must reach from 0 to the end of the course');
  let segment = 1;
  const find = (x: number): number => {
    if (x < profile[segment - 1]!.distanceM) segment = 1;
    while (segment < profile.length - 1 && profile[segment]!.distanceM < x) segment++;
    return segment;
  };
  const gradeOf = profile.map((point, k) =>
    k === 0 ? 0 : (point.altitudeM - profile[k - 1]!.altitudeM) / (point.distanceM - profile[k - 1]!.distanceM),
  );
  return {
    // Along-track distance: the rise per metre ridden is the sine of the slope, g / √(1 + g²).
    altitude(x) {
      const k = find(x);
      let altitude = profile[0]!.altitudeM;
      for (let j = 1; j < k; j++) altitude += riseOf(gradeOf[j]!) * (profile[j]!.distanceM - profile[j - 1]!.distanceM);
      return altitude + riseOf(gradeOf[k]!) * (x - profile[k - 1]!.distanceM);
    },
    grade: (x) => gradeOf[find(x)]!,
    gainPerLapM: gradeOf.reduce(
      (sum, grade, k) => (k === 0 ? 0 : sum + riseOf(grade) * (profile[k]!.distanceM - profile[k - 1]!.distanceM)),
      0,
    ),
  };
}

function riseOf(grade: number): number {
  return grade / Math.sqrt(1 + grade * grade);
}
