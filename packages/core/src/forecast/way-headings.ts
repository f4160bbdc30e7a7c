import { turnedRound } from './scenario.js';
import type { WayPoint } from './path.js';

/** How a way lies in the land. */
export interface WayShape {
  /** Where it was measured or drawn, m east and north of its start; empty where nobody knows. */
  readonly plan: readonly { readonly eastM: number; readonly northM: number }[];
  /** What is known of it without a plan. */
  readonly returns: 'round' | 'same way' | 'no';
}
export interface HeadedWay {
  readonly points: readonly WayPoint[];
  /** Headings are from north; else from where the way sets out. */
  readonly isByCompass: boolean;
}

const LEAST_APART_M = 25;
const MOST_POINTS = 400;

/**
 * A profile with headings: by its plan, else as a circle where it comes round, there and back where it returns the same way, and straight
 * otherwise. Points are added where they lie too far apart to follow the bends.
 */
export function headedWay(profile: readonly WayPoint[], { plan, returns }: WayShape): HeadedWay {
  const first = profile[0]!.distanceM;
  const lengthM = profile.at(-1)!.distanceM - first;
  const isByCompass = plan.length > 2;
  if (!isByCompass && returns === 'no')
    return { points: profile.map((point) => ({ ...point, headingDeg: 0 })), isByCompass: false };
  const points = filled(profile, Math.max(LEAST_APART_M, lengthM / MOST_POINTS));
  const headingOf = isByCompass
    ? headingsByPlan(plan, lengthM)
    : (fromM: number, toM: number): number => {
        const middle = (fromM + toM) / 2 / lengthM;
        return returns === 'round' ? (360 * middle) % 360 : middle < 0.5 ? 0 : 180;
      };
  return {
    isByCompass,
    points: points.map((point, k) => {
      const next = points[k + 1];
      return next ? { ...point, headingDeg: headingOf(point.distanceM - first, next.distanceM - first) } : point;
    }),
  };
}

/** Out to its end and home again the same way. */
export function thereAndBack(points: readonly WayPoint[]): readonly WayPoint[] {
  const end = points.at(-1)!.distanceM;
  const out = points.map((point) => ({ ...point, headingDeg: point.headingDeg ?? 0 }));
  const [turn, ...home] = turnedRound(out);
  return [
    ...out.slice(0, -1),
    { ...out.at(-1)!, headingDeg: turn!.headingDeg ?? 180 },
    ...home.map((point) => ({ ...point, distanceM: point.distanceM + end })),
  ];
}

function filled(profile: readonly WayPoint[], apartM: number): WayPoint[] {
  return profile.flatMap((point, k) => {
    const next = profile[k + 1];
    if (!next) return [point];
    const pieces = Math.max(1, Math.ceil((next.distanceM - point.distanceM) / apartM));
    return Array.from({ length: pieces }, (_, j) => ({
      distanceM: point.distanceM + ((next.distanceM - point.distanceM) * j) / pieces,
      altitudeM: point.altitudeM + ((next.altitudeM - point.altitudeM) * j) / pieces,
    }));
  });
}

/** Direction of the chord between two places along a plan, whose length is stretched to the way's. */
function headingsByPlan(plan: WayShape['plan'], lengthM: number): (fromM: number, toM: number) => number {
  const along = [0];
  for (let k = 1; k < plan.length; k++)
    along.push(along[k - 1]! + Math.hypot(plan[k]!.eastM - plan[k - 1]!.eastM, plan[k]!.northM - plan[k - 1]!.northM));
  const scale = along.at(-1)! / lengthM;
  let [segment, last] = [1, 0];
  const placeAt = (distanceM: number): { eastM: number; northM: number } => {
    const at = distanceM * scale;
    if (at < along[segment - 1]!) segment = 1;
    while (segment < plan.length - 1 && along[segment]! < at) segment++;
    const [a, b] = [plan[segment - 1]!, plan[segment]!];
    const part = (at - along[segment - 1]!) / Math.max(1e-9, along[segment]! - along[segment - 1]!);
    return { eastM: a.eastM + part * (b.eastM - a.eastM), northM: a.northM + part * (b.northM - a.northM) };
  };
  return (fromM, toM) => {
    const [from, to] = [placeAt(fromM), placeAt(toM)];
    const [east, north] = [to.eastM - from.eastM, to.northM - from.northM];
    // A plan that stands still for a while goes on as it went.
    if (Math.hypot(east, north) < 0.5) return last;
    last = ((Math.atan2(east, north) * 180) / Math.PI + 360) % 360;
    return last;
  };
}
