import { gather } from '../numeric/index.js';
import { haversineM } from '../logs/index.js';
import type { PathPlace } from '../track/index.js';
import { climbedM, CLIMB_HYSTERESIS_M, smoothProfile } from '../analysis/index.js';
import type { CourseFile } from './read-course-file.js';

export interface PlanPoint {
  readonly eastM: number;
  readonly northM: number;
}
export interface ProfilePoint {
  readonly distanceM: number;
  /** Smoothed over 50 m. */
  readonly altitudeM: number;
  /** Rise over way, and its standard error by the fit's own scatter. */
  readonly grade: number;
  readonly gradeUncertainty: number;
}
export interface CourseTrack {
  readonly lengthM: number;
  /** Metres east and north of the first point; empty where only a profile is known. */
  readonly plan: readonly PlanPoint[];
  readonly profile: readonly ProfilePoint[] | null;
  readonly climbedM: number | null;
  /** Where the plan's first point lies on the earth, in degrees; absent where it was drawn by hand. */
  readonly origin?: GeoPoint;
}
export interface GeoPoint {
  readonly latitude: number;
  readonly longitude: number;
}

/** Points kept of a track: enough for a drawing on any screen. */
const MAX_POINTS = 1500;
const FILL_SPACING_M = 8;
const MAX_FILLED = 5000;
/** A profile point that stands on two readings has no scatter of its own: the grade is then held to this. */
const UNKNOWN_GRADE_LIMIT = 0.05;

/** Plan, length, smoothed profile and grade of a course file. Undefined when fewer than two positions can be read. */
export function trackOfFile(file: CourseFile): CourseTrack | undefined {
  if (file.kind === 'profile')
    return {
      lengthM: file.distanceM.at(-1)!,
      plan: [],
      ...profileOf(file.distanceM, file.altitudeM),
    };
  const { latitude, longitude, altitudeM } = file;
  const kept = Array.from(latitude.keys()).filter((k) => !Number.isNaN(latitude[k]!) && !Number.isNaN(longitude[k]!));
  if (kept.length < 2) return undefined;
  const distanceM = new Float64Array(kept.length);
  for (let j = 1; j < kept.length; j++) {
    const [a, b] = [kept[j - 1]!, kept[j]!];
    distanceM[j] = distanceM[j - 1]! + haversineM(latitude[a]!, longitude[a]!, latitude[b]!, longitude[b]!);
  }
  const origin = kept[0]!;
  // A plane about the first point: within a ride's reach the error is far below a line's width.
  const { northPerDegree, eastPerDegree } = planeAt(latitude[origin]!);
  return {
    lengthM: distanceM.at(-1)!,
    origin: { latitude: latitude[origin]!, longitude: longitude[origin]! },
    plan: thinned(kept).map((k) => ({
      eastM: round((longitude[k]! - longitude[origin]!) * eastPerDegree),
      northM: round((latitude[k]! - latitude[origin]!) * northPerDegree),
    })),
    ...(altitudeM ? profileOf(distanceM, gather(altitudeM, kept)) : { profile: null, climbedM: null }),
  };
}

function planeAt(latitude: number): { northPerDegree: number; eastPerDegree: number } {
  const northPerDegree = haversineM(latitude - 0.5, 0, latitude + 0.5, 0);
  return { northPerDegree, eastPerDegree: northPerDegree * Math.cos((latitude * Math.PI) / 180) };
}

/** Where a distance along the course lies on the earth, degrees; undefined where the track has no positions. */
export function placeOnCourse(
  { plan, origin, lengthM }: Pick<CourseTrack, 'lengthM' | 'origin' | 'plan'>,
  distanceM: number,
): GeoPoint | undefined {
  if (!origin || plan.length < 2) return undefined;
  const steps = plan.map((point, k) =>
    k === 0 ? 0 : Math.hypot(point.eastM - plan[k - 1]!.eastM, point.northM - plan[k - 1]!.northM),
  );
  const total = steps.reduce((sum, step) => sum + step, 0);
  if (!(total > 0)) return undefined;
  // The drawn plan is thinned, so a little shorter than the way.
  let left = Math.min(total, Math.max(0, (distanceM / lengthM) * total));
  let k = 1;
  while (k < plan.length - 1 && left > steps[k]!) left -= steps[k++]!;
  const share = steps[k]! > 0 ? Math.min(1, left / steps[k]!) : 0;
  const [a, b] = [plan[k - 1]!, plan[k]!];
  const { northPerDegree, eastPerDegree } = planeAt(origin.latitude);
  return {
    latitude: origin.latitude + (a.northM + share * (b.northM - a.northM)) / northPerDegree,
    longitude: origin.longitude + (a.eastM + share * (b.eastM - a.eastM)) / eastPerDegree,
  };
}

/** The track's points on the earth with their distances along the course, in the direction ridden; nothing where it has no positions. */
export function pathOfCourse(
  { plan, origin, lengthM }: Pick<CourseTrack, 'lengthM' | 'plan'> & { readonly origin?: GeoPoint | undefined },
  direction: 1 | -1,
): PathPlace[] {
  if (!origin || plan.length < 2) return [];
  const { northPerDegree, eastPerDegree } = planeAt(origin.latitude);
  let drawnM = 0;
  const drawn = plan.map((point, k) => {
    if (k > 0) drawnM += Math.hypot(point.eastM - plan[k - 1]!.eastM, point.northM - plan[k - 1]!.northM);
    return {
      latitude: origin.latitude + point.northM / northPerDegree,
      longitude: origin.longitude + point.eastM / eastPerDegree,
      distanceM: drawnM,
    };
  });
  if (!(drawnM > 0)) return [];
  // The drawn plan is thinned, so a little shorter than the way.
  const path = drawn.map((place) => ({ ...place, distanceM: (place.distanceM / drawnM) * lengthM }));
  return direction === 1 ? path : path.reverse().map((place) => ({ ...place, distanceM: lengthM - place.distanceM }));
}

/**
 * A course drawn by hand: corners in metres, altitudes at some distances (or none).
 * Between the altitudes that were given the course rises evenly; the smoothing of a recorded track is not applied.
 */
export function trackOfDrawing(
  corners: readonly PlanPoint[],
  altitudes: readonly { readonly distanceM: number; readonly altitudeM: number }[],
): CourseTrack {
  const lengthM = corners
    .slice(1)
    .reduce((sum, point, k) => sum + Math.hypot(point.eastM - corners[k]!.eastM, point.northM - corners[k]!.northM), 0);
  const points = [...altitudes].sort((a, b) => a.distanceM - b.distanceM);
  const grades = points.map((point, k) => {
    const [a, b] = [points[Math.max(0, k - 1)]!, points[Math.min(points.length - 1, k + 1)]!];
    return b.distanceM > a.distanceM ? (b.altitudeM - a.altitudeM) / (b.distanceM - a.distanceM) : 0;
  });
  return {
    lengthM: corners.length > 1 ? lengthM : (points.at(-1)?.distanceM ?? 0),
    plan: corners,
    profile:
      points.length < 2
        ? null
        : points.map((point, k) => ({
            ...point,
            grade: grades[k]!,
            gradeUncertainty: UNKNOWN_GRADE_LIMIT / Math.sqrt(3),
          })),
    climbedM:
      points.length < 2
        ? null
        : climbedM(
            points.map(({ altitudeM }) => altitudeM),
            0,
          ),
  };
}

function profileOf(distanceM: Float64Array, altitudeM: Float64Array): Pick<CourseTrack, 'climbedM' | 'profile'> {
  const dense = filledIn(distanceM, altitudeM);
  const smooth = smoothProfile(dense.distanceM, dense.altitudeM);
  if (!smooth) return { profile: null, climbedM: null };
  const kept = thinned(Array.from(smooth.distanceM.keys()));
  return {
    climbedM: climbedM(smooth.altitudeM, CLIMB_HYSTERESIS_M),
    profile: kept.map((k) => ({
      distanceM: round(smooth.distanceM[k]!),
      altitudeM: round(smooth.altitudeM[k]!),
      grade: Number(smooth.gradeFraction[k]!.toFixed(5)),
      gradeUncertainty: Number(Math.min(UNKNOWN_GRADE_LIMIT / Math.sqrt(3), smooth.gradeStandardError[k]!).toFixed(5)),
    })),
  };
}

/**
 * A planned line has corners far apart: between them the altitude is taken as even, at every few metres, so that the
 * smoothing sees the slope and not lone points.
 */
function filledIn(
  distanceM: Float64Array,
  altitudeM: Float64Array,
): { distanceM: ArrayLike<number>; altitudeM: ArrayLike<number> } {
  const kept = Array.from(distanceM.keys()).filter((k) => !Number.isNaN(altitudeM[k]!));
  const x: number[] = [];
  const y: number[] = [];
  kept.forEach((k, j) => {
    const last = kept[j - 1];
    if (last !== undefined) {
      const way = distanceM[k]! - distanceM[last]!;
      const pieces = Math.min(MAX_FILLED, Math.ceil(way / FILL_SPACING_M));
      for (let piece = 1; piece < pieces; piece++) {
        x.push(distanceM[last]! + (way * piece) / pieces);
        y.push(altitudeM[last]! + ((altitudeM[k]! - altitudeM[last]!) * piece) / pieces);
      }
    }
    x.push(distanceM[k]!);
    y.push(altitudeM[k]!);
  });
  return { distanceM: x, altitudeM: y };
}

function thinned<T>(items: readonly T[]): T[] {
  const every = Math.max(1, Math.ceil(items.length / MAX_POINTS));
  return items.filter((_, k) => k % every === 0 || k === items.length - 1);
}

function round(value: number): number {
  return Math.round(value * 10) / 10;
}
