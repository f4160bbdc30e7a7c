import type { CleanLog } from '../logs/index.js';
import { firstAtOrAfter } from '../numeric/index.js';
import { lapPath, PathFollower, type PathPlace } from '../track/index.js';
import type { RideDistance } from './range/ride-distance.js';
import type { CourseKnowledge } from './test-context.js';

/** Seconds of the log at which the timed part began and ended. */
export interface GatePasses {
  readonly fromS: number;
  readonly toS: number;
  /** How surely each was met, m: a standard deviation. */
  readonly unsureM: number;
}
/** Where a gate was met, and by how much the log falls short of it, m. */
interface Pass {
  readonly s: number;
  readonly shortM: number;
}

/** What the places of a log and of the course's drawing are unsure by at a gate, m: a standard deviation. */
const GATE_POSITION_M = 4;

/** A log does not say what its receiver is unsure by, m. */
const ACCURACY_M = 10;
/** Fixes that come faster than this tell no more of where the bike is, s. */
const FIX_STEP_S = 0.5;
/** Fewer fixes than this on its course: the log was ridden elsewhere. */
const FEWEST_FIXES = 5;
/** Over so many seconds before and after a gate its fixes are put together. */
const ABOUT_S = 10;
/** A log that begins (or a part that was cut out) at a gate does so to within this, m: log and drawing wander by as much. */
const AT_GATE_M = 20;
/** Who stands this near behind the start line has not set off, m. */
const AT_LINE_M = 6;
/** A bike that gets less far than this in so many seconds stands. */
const STANDING_M = 0.5;
const STANDING_S = 2;

/** A counter in coarser steps than this does not say where between two fixes the bike was, m. */
const FINE_STEP_M = 2;

interface FixOnCourse {
  readonly sample: number;
  readonly alongM: number;
  /** Whether the bike came there along the course from the fix before. */
  readonly isNext: boolean;
}
interface Followed {
  readonly fixes: readonly FixOnCourse[];
  /** Of all fixes the first and the last, on the course or off it. */
  readonly firstSample: number;
  readonly lastSample: number;
}
type Way = Pick<RideDistance, 'cumulativeM' | 'stepM'>;

/**
 * When a ride met the gates of its course by its positions: the last time it came over the start line before it came over the finish
 * line (on a loop, of the last lap that was finished). The fixes of some seconds about a gate are put together by the distance ridden.
 * Gives `elsewhere` where the positions do not lie on the course, `not-passed` where a gate was not met, undefined where there is
 * nothing to tell it by: no positions, no clock, or a course without any.
 */
export function gatePasses(
  log: CleanLog,
  course: CourseKnowledge,
  way: Way,
): GatePasses | 'elsewhere' | 'not-passed' | undefined {
  const { path, lengthM, startM, finishM, isLoop } = course;
  if (!path || path.length < 2 || !log.hasClock) return undefined;
  const laps = isLoop ? 2 + Math.floor(way.cumulativeM.at(-1)! / lengthM) : 1;
  const followed = follow(log, lapPath(path, [], { laps, lengthM }).path);
  if (!followed) return undefined;
  if (followed.fixes.length < FEWEST_FIXES) return 'elsewhere';
  for (let first = 0; first < laps; first++) {
    const starts = [
      ...beginsBehind(log.timeS, followed, way, startM + first * lengthM),
      ...crossings(log.timeS, followed, way, startM + first * lengthM),
    ];
    if (starts.length === 0) continue;
    for (let last = laps - 1; last >= first; last--) {
      const finishes = [
        ...crossings(log.timeS, followed, way, finishM + last * lengthM),
        ...endsBefore(log.timeS, followed, way, finishM + last * lengthM),
      ];
      const finish = finishes.find(({ s }) => s > starts[0]!.s);
      if (!finish) continue;
      const start = starts.filter(({ s }) => s < finish.s).at(-1)!;
      // Of what is missing at an edge nobody knows how much the places only wandered.
      const unsureM = Math.hypot(GATE_POSITION_M, Math.max(start.shortM, finish.shortM));
      return { fromS: setsOff(log, way, start.s), toS: finish.s, unsureM };
    }
  }
  return 'not-passed';
}

function follow({ timeS, channels }: CleanLog, path: readonly PathPlace[]): Followed | undefined {
  const { latitude, longitude } = channels;
  if (!latitude || !longitude) return undefined;
  const follower = new PathFollower(path);
  const fixes: FixOnCourse[] = [];
  let [firstSample, lastSample] = [-1, -1];
  for (let k = 0; k < timeS.length; k++) {
    if (Number.isNaN(latitude[k]! + longitude[k]!)) continue;
    if (lastSample >= 0 && timeS[k]! - timeS[lastSample]! < FIX_STEP_S) continue;
    if (firstSample < 0) firstSample = k;
    lastSample = k;
    const found = follower.take(timeS[k]!, { latitude: latitude[k]!, longitude: longitude[k]! }, ACCURACY_M);
    if (found) fixes.push({ sample: k, ...found });
  }
  return firstSample < 0 ? undefined : { fixes, firstSample, lastSample };
}

/** Seconds at which a ride came over a line along its course. */
function crossings(timeS: Float64Array, { fixes }: Followed, way: Way, lineM: number): Pass[] {
  return fixes.flatMap((b, j) => {
    const a = fixes[j - 1];
    if (!a || !b.isNext || a.alongM >= lineM || b.alongM < lineM) return [];
    const [aS, bS] = [timeS[a.sample]!, timeS[b.sample]!];
    const straightS = aS + ((lineM - a.alongM) / (b.alongM - a.alongM)) * (bS - aS);
    return [{ s: byWay(timeS, fixes, way, lineM, straightS), shortM: 0 }];
  });
}

/** Of a log whose first fix lies behind the line: where its distance began before that, or it was cut out of a longer one just there. */
function beginsBehind(timeS: Float64Array, { fixes, firstSample }: Followed, way: Way, lineM: number): Pass[] {
  const { sample, alongM } = fixes[0]!;
  if (sample !== firstSample || alongM < lineM) return [];
  const lineWayM = way.cumulativeM[sample]! - (alongM - lineM);
  if (lineWayM >= 0) return [{ s: timeOfWay(timeS, way, lineWayM), shortM: 0 }];
  return -lineWayM <= AT_GATE_M ? [{ s: timeS[0]!, shortM: -lineWayM }] : [];
}

/** The same of a log whose last fix lies before the line. */
function endsBefore(timeS: Float64Array, { fixes, lastSample }: Followed, way: Way, lineM: number): Pass[] {
  const { sample, alongM } = fixes.at(-1)!;
  if (sample !== lastSample || alongM >= lineM) return [];
  const lineWayM = way.cumulativeM[sample]! + (lineM - alongM);
  const endM = way.cumulativeM.at(-1)!;
  if (lineWayM <= endM) return [{ s: timeOfWay(timeS, way, lineWayM), shortM: 0 }];
  return lineWayM - endM <= AT_GATE_M ? [{ s: timeS.at(-1)!, shortM: lineWayM - endM }] : [];
}

/** The second of a crossing, by the mean of what the fixes about it say and the distance ridden between them. */
function byWay(timeS: Float64Array, fixes: readonly FixOnCourse[], way: Way, lineM: number, straightS: number): number {
  if ((way.stepM ?? 0) > FINE_STEP_M) return straightS;
  const near = fixes.filter(({ sample }) => Math.abs(timeS[sample]! - straightS) <= ABOUT_S);
  const aheadM = near.reduce((sum, { sample, alongM }) => sum + alongM - way.cumulativeM[sample]!, 0) / near.length;
  const s = timeOfWay(timeS, way, lineM - aheadM);
  return Math.abs(s - straightS) <= ABOUT_S ? s : straightS;
}

function timeOfWay(timeS: Float64Array, { cumulativeM }: Way, metres: number): number {
  const k = Math.min(cumulativeM.length - 1, firstAtOrAfter(cumulativeM, metres));
  if (k === 0) return timeS[0]!;
  const [a, b] = [cumulativeM[k - 1]!, cumulativeM[k]!];
  const part = b > a ? Math.min(1, (metres - a) / (b - a)) : 1;
  return timeS[k - 1]! + part * (timeS[k]! - timeS[k - 1]!);
}

/** Who stands at the start line sets off when he moves, not when the line was reached. */
function setsOff({ timeS }: CleanLog, { cumulativeM, stepM = 0 }: Way, fromS: number): number {
  if (stepM > FINE_STEP_M) return fromS;
  const from = firstAtOrAfter(timeS, fromS);
  let setsOffS = fromS;
  for (let k = from; k < timeS.length && cumulativeM[k]! - cumulativeM[from]! <= AT_LINE_M; k++) {
    const before = firstAtOrAfter(timeS, timeS[k]! - STANDING_S);
    if (timeS[before]! >= fromS && cumulativeM[k]! - cumulativeM[before]! < STANDING_M) setsOffS = timeS[k]!;
  }
  return setsOffS;
}
