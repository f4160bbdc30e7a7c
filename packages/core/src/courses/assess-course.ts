import type { ProfilePoint } from './course-shape.js';

export interface Section {
  readonly fromM: number;
  readonly toM: number;
}
export interface SectionGrade extends Section {
  readonly grade: number;
  /** Standard uncertainty of the mean grade. */
  readonly uncertainty: number;
}
export type HillClass = 'level' | 'rolling' | 'gentle' | 'moderate' | 'steep' | 'very-steep';
export interface CourseAssessment {
  readonly meanGrade: SectionGrade;
  /** Steepest 50 m, up and down, in the direction ridden. */
  readonly steepestUp: SectionGrade;
  readonly steepestDown: SectionGrade;
  readonly climbM: number;
  readonly descentM: number;
  readonly hill: HillClass;
  /** Longest span that is level within `LEVEL_GRADE`; null where there is none. */
  readonly levelSection: SectionGrade | null;
  readonly levelQuality: 'good' | 'usable' | 'poor';
}

/** A grade of half a per cent costs as much as a tenth of the rolling and air resistance at 25 km/h: above it a strip is not level. */
export const LEVEL_GRADE = 0.005;
const GOOD_LEVEL_M = 400;
const USABLE_LEVEL_M = 150;
const STEEPEST_OVER_M = 50;
/** Ends of a span are known to a smoothed altitude's own scatter. */
const ALTITUDE_LIMIT_M = 1;

/**
 * Grade, climbing, hill class and level span of a profile between two distances, in the direction ridden.
 * Shapes: at least two points, distance increasing. `direction` −1 rides it the other way round.
 * Method: mean grade is rise over distance with the altitudes' uncertainty at both ends (±1 m, rectangular); the steepest
 *         span is taken over 50 m of the smoothed profile.
 */
export function assessCourse(
  profile: readonly ProfilePoint[],
  { direction = 1, fromM, toM }: { direction?: 1 | -1; fromM?: number; toM?: number } = {},
): CourseAssessment {
  const start = fromM ?? profile[0]!.distanceM;
  const end = toM ?? profile.at(-1)!.distanceM;
  const inside = [
    { distanceM: start, altitudeM: altitudeOn(profile, start) },
    ...profile.filter(({ distanceM }) => distanceM > start && distanceM < end),
    { distanceM: end, altitudeM: altitudeOn(profile, end) },
  ];
  let climbM = 0;
  let descentM = 0;
  for (let k = 1; k < inside.length; k++) {
    const rise = (inside[k]!.altitudeM - inside[k - 1]!.altitudeM) * direction;
    if (rise > 0) climbM += rise;
    else descentM -= rise;
  }
  const meanGrade = gradeOf(profile, start, end, direction);
  const windows = inside
    .filter(({ distanceM }) => distanceM + STEEPEST_OVER_M <= end + 1e-9)
    .map(({ distanceM }) => gradeOf(profile, distanceM, distanceM + STEEPEST_OVER_M, direction));
  const all = windows.length > 0 ? windows : [meanGrade];
  const steepestUp = all.reduce((most, one) => (one.grade > most.grade ? one : most));
  const steepestDown = all.reduce((least, one) => (one.grade < least.grade ? one : least));
  const levelSection = longestLevel(inside, profile, direction);
  const levelLength = levelSection ? levelSection.toM - levelSection.fromM : 0;
  return {
    meanGrade,
    steepestUp,
    steepestDown,
    climbM,
    descentM,
    hill: hillClass(meanGrade.grade, Math.max(climbM, descentM), end - start),
    levelSection,
    levelQuality: levelLength >= GOOD_LEVEL_M ? 'good' : levelLength >= USABLE_LEVEL_M ? 'usable' : 'poor',
  };
}

/** By the mean grade between the ends; a course that goes up and down again is judged by its climbing per length. */
function hillClass(meanGrade: number, climbM: number, lengthM: number): HillClass {
  const grade = Math.abs(meanGrade);
  if (grade < 0.01) return climbM / lengthM < 0.008 ? 'level' : 'rolling';
  if (grade < 0.03) return 'gentle';
  if (grade < 0.06) return 'moderate';
  return grade < 0.1 ? 'steep' : 'very-steep';
}

function longestLevel(
  points: readonly { distanceM: number; altitudeM: number }[],
  profile: readonly ProfilePoint[],
  direction: 1 | -1,
): SectionGrade | null {
  let best: SectionGrade | null = null;
  let from = 0;
  for (let to = 1; to < points.length; to++) {
    const step = points[to]!.distanceM - points[to - 1]!.distanceM;
    const grade = step > 0 ? Math.abs(points[to]!.altitudeM - points[to - 1]!.altitudeM) / step : 0;
    if (grade > LEVEL_GRADE) from = to;
    else if (!best || points[to]!.distanceM - points[from]!.distanceM > best.toM - best.fromM)
      best = gradeOf(profile, points[from]!.distanceM, points[to]!.distanceM, direction);
  }
  return best;
}

function gradeOf(profile: readonly ProfilePoint[], fromM: number, toM: number, direction: 1 | -1): SectionGrade {
  const way = toM - fromM;
  const rise = (altitudeOn(profile, toM) - altitudeOn(profile, fromM)) * direction;
  return { fromM, toM, grade: rise / way, uncertainty: (Math.SQRT2 * (ALTITUDE_LIMIT_M / Math.sqrt(3))) / way };
}

/** Altitude at a distance, linear between the points and level beyond them. */
export function altitudeOn(
  profile: readonly { readonly distanceM: number; readonly altitudeM: number }[],
  distanceM: number,
): number {
  let low = 0;
  let high = profile.length - 1;
  if (distanceM <= profile[0]!.distanceM) return profile[0]!.altitudeM;
  if (distanceM >= profile[high]!.distanceM) return profile[high]!.altitudeM;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (profile[middle]!.distanceM <= distanceM) low = middle;
    else high = middle;
  }
  const [a, b] = [profile[low]!, profile[high]!];
  return a.altitudeM + ((b.altitudeM - a.altitudeM) * (distanceM - a.distanceM)) / (b.distanceM - a.distanceM);
}

/** Degrees of a grade, and back: a slope guessed in degrees is not the same number in per cent. */
export function gradeToDegrees(grade: number): number {
  return (Math.atan(grade) * 180) / Math.PI;
}
export function degreesToGrade(degrees: number): number {
  return Math.tan((degrees * Math.PI) / 180);
}
