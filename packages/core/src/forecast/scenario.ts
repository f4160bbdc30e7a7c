import { airDensityKgPerM3 } from '../physics/index.js';
import { CoreError } from '../errors/index.js';
import { pathProfile, type PathProfile, type WayPoint } from './path.js';

export interface ForecastRiding {
  /** Order for help, 0–1. */
  readonly demand?: number;
  /** As the display shows it; wants rides on which the level was logged. */
  readonly level?: number;
  readonly targetSpeedKmh?: number;
  readonly riderPowerW?: number;
  /** Evenly along the way. */
  readonly stopsPerKm?: number;
}
export interface Scenario {
  readonly profile: readonly WayPoint[];
  /** Without the second pack. */
  readonly totalMassKg: number;
  readonly airDensity?: number;
  readonly airTemperatureC?: number;
  /** Mean head wind along the way; where the points have headings, from ahead for who rides in direction 0. */
  readonly windMps?: number;
  /** A wind by its strength and where it comes from, clockwise in the frame of the headings; instead of `windMps`. */
  readonly wind?: { readonly mps: number; readonly fromDeg: number };
  /** What is left in the pack at the start, 0–1. */
  readonly startShare: number;
  readonly reserveShare?: number;
  readonly riding: ForecastRiding;
  readonly secondPack?: SecondPack;
  readonly startMotorC?: number;
}

export interface SecondPack {
  readonly capacityAh: number;
  readonly massKg: number;
  /** Both at once, or one when the other is empty. Absent: both at once. */
  readonly use?: 'together' | 'in turn';
}

/** What a rider should hear beside the figures. */
export interface ForecastWarning {
  readonly code: string;
  readonly message: string;
}

export const MOST_PROFILE_POINTS = 50_000;
const MOST_PIECES = 2_000;
const LEAST_PIECE_M = 30;
const LONGEST_WAY_M = 1_000_000;
const STEEPEST = 0.5;

/**
 * The way of a scenario, checked and thinned to what a path needs.
 * Fails: throws `bad-scenario` with the place where distances do not grow, numbers are not finite, or a piece is steeper than 50 %.
 */
export function wayOf({ profile }: Pick<Scenario, 'profile'>): PathProfile {
  const refuse = (message: string): never => {
    throw new CoreError('bad-scenario', message);
  };
  if (profile.length < 2) refuse('profile: at least two points are needed, the start and the end of the way.');
  if (profile.length > MOST_PROFILE_POINTS)
    refuse(
      `profile: at most ${MOST_PROFILE_POINTS} points, here ${profile.length}. Leave out points that lie close together.`,
    );
  profile.forEach(({ distanceM, altitudeM, headingDeg }, k) => {
    if (headingDeg !== undefined && !Number.isFinite(headingDeg))
      refuse(`profile: the heading of point ${k + 1} is no number of degrees.`);
    if (!Number.isFinite(distanceM) || !Number.isFinite(altitudeM))
      refuse(`profile: point ${k + 1} has no finite distance and altitude.`);
    if (k > 0 && !(distanceM > profile[k - 1]!.distanceM))
      refuse(
        `profile: distances must grow; point ${k + 1} lies at ${distanceM} m after ${profile[k - 1]!.distanceM} m.`,
      );
  });
  const first = profile[0]!.distanceM;
  const lengthM = profile.at(-1)!.distanceM - first;
  if (lengthM < 20) refuse(`profile: the way is ${lengthM.toFixed(0)} m long; a forecast needs at least 20 m.`);
  if (lengthM > LONGEST_WAY_M) refuse('profile: the way is longer than 1000 km.');
  const kept = profile.map((point) => ({ ...point, distanceM: point.distanceM - first }));
  const points = thinned(kept);
  points.forEach((point, k) => {
    if (k === 0) return;
    const before = points[k - 1]!;
    const grade = (point.altitudeM - before.altitudeM) / (point.distanceM - before.distanceM);
    if (Math.abs(grade) > STEEPEST)
      refuse(
        `profile: ${(100 * grade).toFixed(0)} % from ${before.distanceM.toFixed(0)} m to ${point.distanceM.toFixed(0)} m; no road is that steep. Look whether altitudes are in metres.`,
      );
  });
  const way = pathProfile(points);
  return kept.some(({ headingDeg }) => headingDeg !== undefined) ? { ...way, towards: meanHeadings(kept, way) } : way;
}

/** The same way ridden the other way round: what was before a point lies behind it, and is ridden against its heading. */
export function turnedRound(profile: readonly WayPoint[]): readonly WayPoint[] {
  const end = profile.at(-1)!.distanceM;
  return profile
    .map(({ distanceM, altitudeM }, k) => {
      const before = k > 0 ? profile[k - 1]!.headingDeg : undefined;
      return {
        distanceM: end - distanceM,
        altitudeM,
        ...(before !== undefined && { headingDeg: (before + 180) % 360 }),
      };
    })
    .reverse();
}

/** Mean direction of each piece of a way: bends within it make it shorter than 1. */
function meanHeadings(points: readonly WayPoint[], { endM }: PathProfile): NonNullable<PathProfile['towards']> {
  const ahead = new Float64Array(endM.length);
  const right = new Float64Array(endM.length);
  let [piece, fromM, heading] = [0, 0, 0];
  points.slice(1).forEach(({ distanceM }, k) => {
    heading = points[k]!.headingDeg ?? heading;
    const [cos, sin] = [Math.cos((heading * Math.PI) / 180), Math.sin((heading * Math.PI) / 180)];
    for (let atM = fromM; atM < distanceM;) {
      const toM = Math.min(distanceM, endM[piece]!);
      const pieceM = endM[piece]! - (piece > 0 ? endM[piece - 1]! : 0);
      ahead[piece]! += (cos * (toM - atM)) / pieceM;
      right[piece]! += (sin * (toM - atM)) / pieceM;
      if (toM >= endM[piece]! && piece < endM.length - 1) piece++;
      else if (toM <= atM) break;
      atM = toM;
    }
    fromM = distanceM;
  });
  return { ahead, right };
}

export function airOf(
  { airDensity, airTemperatureC }: Scenario,
  usualC: number,
): { temperatureC: number; density: number } {
  const temperatureC = airTemperatureC ?? usualC;
  return { temperatureC, density: airDensity ?? airDensityKgPerM3(temperatureC) };
}

/** Heights are rounded: over a few metres they are steps, no slope. Points lie at least so far apart, or as far as keeps pieces few. */
function thinned(points: readonly WayPoint[]): WayPoint[] {
  const end = points.at(-1)!;
  const apartM = Math.max(LEAST_PIECE_M, end.distanceM / MOST_PIECES);
  const kept = [points[0]!];
  for (const point of points.slice(1, -1))
    if (point.distanceM - kept.at(-1)!.distanceM >= apartM && end.distanceM - point.distanceM >= apartM)
      kept.push(point);
  kept.push(end);
  return kept;
}
