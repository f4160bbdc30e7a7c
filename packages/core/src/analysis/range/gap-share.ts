import { haversineM, type CleanLog, type Gap } from '../../logs/index.js';
import { firstAtOrAfter } from '../../numeric/index.js';

/**
 * How much of a gap was ridden, as a share of its time from `least` to `most`: decided by the distance column, else by the
 * positions, else by the speed at its edges; what nothing decides is anything between standing and riding.
 */
export interface GapShare {
  readonly least: number;
  readonly most: number;
  /** Longer than a stop and not seen to be ridden: the logger, and perhaps the bike, was off. */
  readonly isOff: boolean;
  /** Share of the gap in which it may have been slowing down or starting: ridden, and perhaps without any power. */
  readonly edge?: number;
}

/** Below this the bike stands; below the next, at an edge of a gap, it comes to a stop or starts. */
const STANDING_MPS = 0.5;
const STOPPING_MPS = 2.6;
/** Brakes and motors of bikes reach this: a stop between two moments of riding takes at least so long. */
const SLOWING_MPS2 = 3;
const GENTLE_MPS2 = 0.7;
const EDGE_MPS = 1.5;
/** What the logger's own step leaves open. */
const EDGE_S = 1;
/** A drop-out of a minute between two moments of riding was ridden; beyond, nothing tells. */
const DROP_OUT_S = 60;
export const LONG_GAP_S = 600;
/** How far a standing phone's position wanders. */
const WANDER_M = 15;
/** Riding through a gap may be so much faster or slower than on the whole. */
const PACE = 0.2;
/** Ridden at this share of the usual pace or faster, a drop-out held no stop. */
const DROP_OUT_PACE = 0.65;
const DEFAULT_PACE_MPS = 5.5;

export type JudgeGap = (gap: Gap) => GapShare;

/** A judge of the gaps of one log. */
export function gapJudge({ timeS, channels }: Pick<CleanLog, 'channels' | 'timeS'>): JudgeGap {
  const { distance, speed, latitude, longitude } = channels;
  const pace = usualPace(timeS, speed, distance);
  const resolution = distance ? coarseStep(distance) : 0;
  const at = (column: Float64Array | undefined, s: number, direction: 1 | -1): number | undefined => {
    if (!column) return undefined;
    let k = firstAtOrAfter(timeS, s);
    for (let seen = 0; k >= 0 && k < timeS.length && seen < 6; seen++, k += direction)
      if (!Number.isNaN(column[k]!)) return column[k]!;
    return undefined;
  };
  return (gap) => {
    const seconds = gap.endS - gap.startS;
    /** Coming to a stop and starting again, gently at the most. */
    const edges = (mps: number): number => Math.min(1, (mps / GENTLE_MPS2 + EDGE_S) / seconds);
    const seen = speed && movingShare(timeS, speed, gap);
    if (seen !== undefined) return { least: seen, most: seen, isOff: false };
    const isLong = seconds > LONG_GAP_S;
    const isSlow = (v: number | undefined): boolean => v !== undefined && v < STOPPING_MPS;
    const before = at(speed, gap.startS, -1);
    const after = at(speed, gap.endS, 1);
    const [from, to] = [at(distance, gap.startS, -1), at(distance, gap.endS, 1)];
    if (from !== undefined && to !== undefined && to >= from) {
      const isDropOut = seconds <= DROP_OUT_S && !isSlow(before) && !isSlow(after) && before !== undefined;
      if (isDropOut && to - from > DROP_OUT_PACE * pace * seconds) return { least: 1, most: 1, isOff: false };
      const share = (metres: number, metresPerS: number): number =>
        Math.min(1, Math.max(0, metres) / metresPerS / seconds);
      return {
        least: share(to - from - resolution, pace * (1 + PACE)),
        most: share(to - from + resolution, pace * (1 - PACE)),
        isOff: isLong,
        edge: edges((before ?? EDGE_MPS) + (after ?? EDGE_MPS)),
      };
    }
    const places = [
      [at(latitude, gap.startS, -1), at(longitude, gap.startS, -1)],
      [at(latitude, gap.endS, 1), at(longitude, gap.endS, 1)],
    ] as const;
    const [[lat0, lon0], [lat1, lon1]] = places;
    if (lat0 !== undefined && lon0 !== undefined && lat1 !== undefined && lon1 !== undefined) {
      const metres = haversineM(lat0, lon0, lat1, lon1);
      // Back at the same place after a time in which one could have gone far and come back is nearly always a stop.
      if (metres < WANDER_M) return { least: 0, most: edges(2 * EDGE_MPS), isOff: isLong, edge: edges(2 * EDGE_MPS) };
      const least = Math.min(1, (metres - WANDER_M) / (pace * (1 + PACE)) / seconds);
      return {
        least,
        most: Math.min(1, (1.4 * (metres + WANDER_M)) / pace / seconds),
        isOff: isLong,
        edge: edges(2 * EDGE_MPS),
      };
    }
    if (isSlow(before) && isSlow(after)) return { least: 0, most: edges(before! + after!), isOff: isLong };
    if (before === undefined && after === undefined && !speed) return { least: 0, most: 1, isOff: isLong };
    if (seconds <= DROP_OUT_S && before !== undefined && after !== undefined && !isSlow(before) && !isSlow(after))
      return { least: 1, most: 1, isOff: false };
    // Slowing down and coming to speed again is ridden at the least.
    const least = isLong ? 0 : Math.min(1, ((before ?? 0) + (after ?? 0)) / (2 * SLOWING_MPS2) / seconds);
    return { least, most: 1, isOff: isLong, edge: least };
  };
}

/** Where only another channel was missing, the speed in the gap tells; undefined where it is missing too. */
function movingShare(timeS: Float64Array, speed: Float64Array, { startS, endS }: Gap): number | undefined {
  let [moving, known] = [0, 0];
  for (let k = firstAtOrAfter(timeS, startS) + 1; k < timeS.length && timeS[k]! < endS; k++) {
    if (Number.isNaN(speed[k]!)) continue;
    const step = timeS[k]! - timeS[k - 1]!;
    known += step;
    if (speed[k]! > STANDING_MPS) moving += step;
  }
  return known > 0.8 * (endS - startS) ? moving / known : undefined;
}

/** Mean speed while moving, m/s. */
function usualPace(timeS: Float64Array, speed: Float64Array | undefined, distance: Float64Array | undefined): number {
  let [metres, seconds] = [0, 0];
  for (let k = 1; k < timeS.length; k++) {
    const step = timeS[k]! - timeS[k - 1]!;
    const way = speed
      ? ((speed[k]! + speed[k - 1]!) / 2) * step
      : distance
        ? distance[k]! - distance[k - 1]!
        : Number.NaN;
    if (!(way > STANDING_MPS * step) || step > 10) continue;
    metres += way;
    seconds += step;
  }
  return seconds > 5 ? metres / seconds : DEFAULT_PACE_MPS;
}

/** The usual least step of a counter that grows in steps, m. */
function coarseStep(distance: Float64Array): number {
  const steps: number[] = [];
  for (let k = 1; k < distance.length && steps.length < 2000; k++) {
    const step = distance[k]! - distance[k - 1]!;
    if (step > 1e-6) steps.push(step);
  }
  return steps.sort((a, b) => a - b)[Math.floor(0.05 * steps.length)] ?? 0;
}
