import { oncePer } from '../../numeric/index.js';
import { fitLocalLines } from '../../signal/index.js';

const WINDOW_M = 50;
export const CLIMB_HYSTERESIS_M = 2;
/** Points of the profile closer than this add work but no shape. */
const POINT_SPACING_M = 2;

export interface AltitudeProfile {
  readonly distanceM: Float64Array;
  /** Smoothed. */
  readonly altitudeM: Float64Array;
  readonly gradeFraction: Float64Array;
  readonly gradeStandardError: Float64Array;
  /** Mean spread of single readings about the smoothed line. */
  readonly scatterM: number;
}

/**
 * Altitude and grade over distance by local linear regression (window 50 m).
 * Shapes: equal lengths, distance not decreasing; missing altitudes are left out. Undefined with fewer than 5 points.
 * The same for the same columns: several figures of a ride rest on it.
 */
export function smoothProfile(distanceM: ArrayLike<number>, altitudeM: ArrayLike<number>): AltitudeProfile | undefined {
  return profilesOf(altitudeM)(distanceM);
}

const profilesOf = oncePer((altitudeM: ArrayLike<number>) =>
  oncePer((distanceM: ArrayLike<number>) => findProfile(distanceM, altitudeM)),
);

function findProfile(distanceM: ArrayLike<number>, altitudeM: ArrayLike<number>): AltitudeProfile | undefined {
  const x: number[] = [];
  const y: number[] = [];
  let [sum, sumX, count, cell] = [0, 0, 0, NaN];
  for (let k = 0; k <= distanceM.length; k++) {
    const isEnd = k === distanceM.length;
    const altitude = isEnd ? NaN : altitudeM[k]!;
    if (!isEnd && Number.isNaN(altitude)) continue;
    const key = isEnd ? NaN : Math.floor(distanceM[k]! / POINT_SPACING_M);
    if (key !== cell) {
      if (count > 0) {
        x.push(sumX / count);
        y.push(sum / count);
      }
      sum = 0;
      sumX = 0;
      count = 0;
      cell = key;
    }
    if (isEnd) break;
    sum += altitude;
    sumX += distanceM[k]!;
    count++;
  }
  if (x.length < 5) return undefined;
  const { level, slope, slopeStandardError } = fitLocalLines(x, y, WINDOW_M);
  let squares = 0;
  for (let k = 0; k < level.length; k++) squares += (level[k]! - y[k]!) ** 2;
  return {
    distanceM: Float64Array.from(x),
    altitudeM: level,
    gradeFraction: slope,
    gradeStandardError: slopeStandardError,
    scatterM: Math.sqrt(squares / level.length),
  };
}

/** Metres climbed along a smoothed profile; rises smaller than the hysteresis are noise and do not count. */
export function climbedM(altitudeM: ArrayLike<number>, hysteresisM: number): number {
  return climbsOf(altitudeM, hysteresisM).totalM;
}
/** The same, with how many climbs it is made of. */
export function climbsOf(altitudeM: ArrayLike<number>, hysteresisM: number): { totalM: number; climbs: number } {
  let climbs = 0;
  let total = 0;
  let low = altitudeM[0] ?? 0;
  let high = low;
  let isClimbing = false;
  for (let k = 1; k < altitudeM.length; k++) {
    const altitude = altitudeM[k]!;
    if (isClimbing) {
      if (altitude > high) high = altitude;
      else if (high - altitude > hysteresisM) {
        total += high - low;
        climbs++;
        isClimbing = false;
        low = altitude;
      }
    } else if (altitude < low) low = altitude;
    else if (altitude - low > hysteresisM) {
      isClimbing = true;
      high = altitude;
    }
  }
  return isClimbing ? { totalM: total + high - low, climbs: climbs + 1 } : { totalM: total, climbs };
}
