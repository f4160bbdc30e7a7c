import { firstAtOrAfter } from '../numeric/index.js';
import { METRES_PER_DEGREE, type PathPlace, type Place } from './place.js';

interface Found {
  readonly alongM: number;
  readonly awayM: number;
}

/** Farther from the course than this nobody is on it, beside what the receiver itself is unsure by. */
const ON_COURSE_M = 25;
/** A fix this unsure tells no place. */
const LEAST_SURE_M = 60;
/** The place found last is trusted so far back and so far ahead: a course that crosses itself is not jumped along. */
const BACK_M = 40;
const AHEAD_PER_S = 25;
/** So far before its first place a way is still ridden along. */
const BEFORE_M = 60;
/** Who was off the course for so long may come back to it anywhere. */
const LOST_S = 45;
/** Of the fixes meanwhile so many off the course tell that it was left. */
const SEEN_OFF = 5;

/** Follows a rider along a course by positions. */
export class PathFollower {
  private lastM: number | undefined;
  private lastS = 0;
  private fixesOff = 0;
  private readonly distancesM: Float64Array;

  /** `path`: at least two places in order along the course. */
  constructor(private readonly path: readonly PathPlace[]) {
    this.distancesM = Float64Array.from(path, ({ distanceM }) => distanceM);
  }

  /** Where the rider is along the course, m; undefined while it was never met. */
  get alongM(): number | undefined {
    return this.lastM;
  }

  /**
   * One fix: seconds, place, and what the receiver says it is unsure by (95 %, m). Gives the place along the course, m, and whether
   * the rider came there along it from the place before; undefined off the course.
   */
  take(timeS: number, place: Place, accuracyM: number): { alongM: number; isNext: boolean } | undefined {
    if (!(accuracyM <= LEAST_SURE_M)) return undefined;
    const isOn = (one: Found | undefined): one is Found => one !== undefined && one.awayM <= ON_COURSE_M + accuracyM;
    const next = this.lastM === undefined ? undefined : this.next(place, this.lastM, timeS - this.lastS);
    const mayBeAnywhere = this.lastM === undefined || timeS - this.lastS > LOST_S;
    const found = isOn(next) || !mayBeAnywhere ? next : this.anywhere(place);
    if (!isOn(found)) {
      this.fixesOff++;
      return undefined;
    }
    // Places that are missing may have been ridden over; who was seen elsewhere all the while was not there.
    const wasElsewhere = mayBeAnywhere && this.fixesOff >= SEEN_OFF;
    this.lastM = found.alongM;
    this.lastS = timeS;
    this.fixesOff = 0;
    return { alongM: found.alongM, isNext: found === next && !wasElsewhere };
  }

  /** Where a way goes on from the place before. */
  private next(place: Place, lastM: number, seconds: number): Found | undefined {
    const found = this.along(place, lastM - BACK_M, lastM + BACK_M + AHEAD_PER_S * Math.max(1, seconds));
    return found.reduce<Found | undefined>((a, b) => (a && a.awayM <= b.awayM ? a : b), undefined);
  }

  /** The end of a round lies where its start is: who sets off is at the start, and who comes back is in the lap that was left. */
  private anywhere(place: Place): Found | undefined {
    const fromM = this.lastM ?? -Infinity;
    const isSooner = (a: Found, b: Found): boolean =>
      fromM === -Infinity ? a.alongM <= b.alongM : Math.abs(a.alongM - fromM) <= Math.abs(b.alongM - fromM);
    const found = this.along(place, -Infinity, Infinity);
    const nearestM = found.reduce((least, { awayM }) => Math.min(least, awayM), Infinity);
    return found
      .filter(({ awayM }) => awayM <= nearestM + ON_COURSE_M)
      .reduce<Found | undefined>((a, b) => (a && isSooner(a, b) ? a : b), undefined);
  }

  /** The nearest place of each piece of the path between two distances along it. */
  private along({ latitude, longitude }: Place, fromM: number, toM: number): Found[] {
    const { path } = this;
    const east = Math.cos((latitude * Math.PI) / 180) * METRES_PER_DEGREE;
    const found: Found[] = [];
    for (let k = Math.max(1, firstAtOrAfter(this.distancesM, fromM)); k < path.length; k++) {
      const [a, b] = [path[k - 1]!, path[k]!];
      if (a.distanceM > toM) break;
      const [ax, ay] = [(a.longitude - longitude) * east, (a.latitude - latitude) * METRES_PER_DEGREE];
      const [dx, dy] = [(b.longitude - a.longitude) * east, (b.latitude - a.latitude) * METRES_PER_DEGREE];
      const square = dx * dx + dy * dy;
      const lengthM = b.distanceM - a.distanceM;
      const least = k === 1 && lengthM > 0 ? -BEFORE_M / lengthM : 0;
      const part = square > 0 ? Math.min(1, Math.max(least, -(ax * dx + ay * dy) / square)) : 0;
      found.push({ alongM: a.distanceM + part * lengthM, awayM: Math.hypot(ax + part * dx, ay + part * dy) });
    }
    return found;
  }
}
