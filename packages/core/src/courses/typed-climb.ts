interface StoredPoint {
  readonly distanceM: number;
  readonly altitudeM: number;
  readonly grade?: number | undefined;
  readonly gradeUncertainty?: number | undefined;
}

/** What is known of a course's height. */
export interface CourseHeights {
  /** One that comes back to its start climbs as much as it descends, whatever was typed. */
  readonly kind: string;
  readonly lengthM: number | null;
  /** Grades are absent in tracks stored before they were kept. */
  readonly track: { readonly profile: readonly StoredPoint[] | null } | null;
  /** Finish minus start as somebody read it off a map, a sign or a barometer, m; of the course as drawn. */
  readonly climbM: number | null;
  readonly climbUncertaintyM: number | null;
}
export interface ProfileShape {
  readonly distanceM: number;
  readonly altitudeM: number;
  readonly grade: number;
  readonly gradeUncertainty: number;
}

/** Of a climb that was typed without saying how well it is known: contour lines, signs and phones miss by as much. */
const USUAL_M = 3;
const USUAL_SHARE = 0.1;

/** Standard uncertainty of a typed climb, m. */
export function typedClimbUncertaintyM(climbM: number, statedM: number | null): number {
  return statedM ?? Math.max(USUAL_M, USUAL_SHARE * Math.abs(climbM));
}

/**
 * Heights along a course: of its track; else, where only a climb was typed, one even slope with what that climb may be off by.
 * Undefined where nothing is known. Units: m, grades as rise over run.
 */
export function knownProfile(course: CourseHeights): readonly ProfileShape[] | undefined {
  const { lengthM, track, climbM, climbUncertaintyM } = course;
  const profile = track?.profile;
  if (profile && profile.length > 1)
    return profile.map(({ grade = 0, gradeUncertainty = 0, ...point }) => ({ ...point, grade, gradeUncertainty }));
  if (climbM === null || lengthM === null || comesBack(course)) return undefined;
  const slope = {
    grade: climbM / lengthM,
    gradeUncertainty: typedClimbUncertaintyM(climbM, climbUncertaintyM) / lengthM,
  };
  return [
    { distanceM: 0, altitudeM: 0, ...slope },
    { distanceM: lengthM, altitudeM: climbM, ...slope },
  ];
}

/**
 * Rise and its standard uncertainty, m, of a part of a course of which only the whole climb is known: its share of the way, off by
 * up to what lies outside it, since nobody said where the climb is.
 */
export function partOfTypedClimb(
  course: Pick<CourseHeights, 'climbM' | 'climbUncertaintyM' | 'kind'> & { readonly lengthM: number },
  partM: number,
): { readonly gainM: number; readonly uncertaintyM: number } | undefined {
  const { climbM, climbUncertaintyM, lengthM } = course;
  if (climbM === null || comesBack(course)) return undefined;
  const share = Math.min(1, partM / lengthM);
  const stated = typedClimbUncertaintyM(climbM, climbUncertaintyM);
  return { gainM: share * climbM, uncertaintyM: Math.hypot(share * stated, (1 - share) * climbM) };
}

function comesBack({ kind }: { readonly kind: string }): boolean {
  return kind === 'loop' || kind === 'out-and-back';
}
