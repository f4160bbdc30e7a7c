import type { RideCourse } from './parameters.js';

export interface CourseShape {
  readonly lengthM: number;
  readonly profile: readonly { readonly distanceM: number; readonly altitudeM: number }[] | null;
}

const MAX_POINTS = 400;

/**
 * A stored course as the ride model takes it: level where there is no profile, turned round for the other direction,
 * cut to `fromM` … `toM`. Points are thinned; the ride model works with the grade between them.
 */
export function rideCourseOf(
  { lengthM, profile }: CourseShape,
  direction: 1 | -1 = 1,
  fromM = 0,
  toM = lengthM,
): RideCourse {
  const start = Math.max(0, Math.min(fromM, toM));
  const end = Math.min(lengthM, Math.max(fromM, toM));
  const length = end - start;
  const points = profile && profile.length > 1 ? profile : [];
  const inside = points.filter(({ distanceM }) => distanceM > start && distanceM < end);
  const every = Math.max(1, Math.ceil(inside.length / MAX_POINTS));
  const kept = [
    { distanceM: 0, altitudeM: altitudeAt(points, start) },
    ...inside
      .filter((_, k) => k % every === 0)
      .map(({ distanceM, altitudeM }) => ({ distanceM: distanceM - start, altitudeM })),
    { distanceM: length, altitudeM: altitudeAt(points, end) },
  ].filter((point, k, all) => k === 0 || point.distanceM > all[k - 1]!.distanceM);
  return {
    lengthM: length,
    profile:
      direction === 1
        ? kept
        : kept.map(({ distanceM, altitudeM }) => ({ distanceM: length - distanceM, altitudeM })).reverse(),
    stops: [],
  };
}

function altitudeAt(points: readonly { distanceM: number; altitudeM: number }[], distanceM: number): number {
  if (points.length === 0) return 0;
  const next = points.findIndex((point) => point.distanceM >= distanceM);
  if (next === 0) return points[0]!.altitudeM;
  if (next < 0) return points.at(-1)!.altitudeM;
  const [a, b] = [points[next - 1]!, points[next]!];
  return a.altitudeM + ((b.altitudeM - a.altitudeM) * (distanceM - a.distanceM)) / (b.distanceM - a.distanceM);
}
