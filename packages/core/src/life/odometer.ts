import { addDays, daysBetween } from './days.js';

/** What somebody wrote down: what the display shows, a distance ridden, or that the display counts otherwise from now on. */
export interface OdometerEntry {
  readonly day: string;
  readonly way: 'reading' | 'rebase' | 'trip';
  /** Reading: as shown. Trip: ridden. Rebase: what the new display shows, or the old one after its wheel size was changed. */
  readonly km: number;
  /** True distance ÷ shown distance from here on, where it is known (rebase). */
  readonly wheelFactor?: number;
  /** Read before the first ride of its day; else after the last. */
  readonly isMorning?: boolean;
}
export interface RiddenDistance {
  readonly day: string;
  readonly km: number;
}
export interface OdometerProblem {
  readonly day: string;
  readonly code: 'less-than-ridden' | 'rides-exceed' | 'too-far' | 'went-back';
  readonly message: string;
}
export interface OdometerPoint {
  readonly day: string;
  readonly km: number;
}
/** Distance over time, oldest first, never falling. */
export interface OdometerLine {
  /** What the first reading says was ridden before anything else is known; null without any reading. */
  readonly startKm: number | null;
  readonly points: readonly OdometerPoint[];
  readonly problems: readonly OdometerProblem[];
}

/** Rides may exceed what a display says between two readings by this much before anyone is told. */
const TOLERANCE = { share: 0.1, km: 2 };
/** More than anybody rides in a day, day after day: a comma was left out. */
const MOST_KM_A_DAY = 300;
const ORDER = { trip: 0, reading: 1, rebase: 2 } as const;
const rank = ({ way, isMorning }: OdometerEntry): number => (isMorning ? -1 : ORDER[way]);

/**
 * Distance of a bike over its days, km, from readings, trips and rides in any order of entry.
 *
 * Method: between two readings of one display their difference counts, rides and trips in between are part of it; before the first, after the last and
 * across a change of display, rides and trips add up. A reading below the one before, or further on than anybody rides in the
 * days between, is left out and told.
 */
export function odometerLine(entries: readonly OdometerEntry[], rides: readonly RiddenDistance[] = []): OdometerLine {
  const problems: OdometerProblem[] = [];
  const events: OdometerEntry[] = [...rides.map(({ day, km }) => ({ day, km, way: 'trip' as const })), ...entries].sort(
    (a, b) => (a.day === b.day ? rank(a) - rank(b) || a.km - b.km : a.day < b.day ? -1 : 1),
  );
  const points: { day: string; km: number }[] = [];
  const put = (day: string, km: number): void => void points.push({ day, km });
  let total = 0;
  let since = 0;
  let shown: number | undefined;
  let shownDay = '';
  let startKm: number | null = null;
  let factor = 1;
  for (const { day, way, km, wheelFactor } of events) {
    if (way === 'trip') {
      since += km;
      put(day, total + since);
      continue;
    }
    if (way === 'rebase') {
      total += since;
      since = 0;
      shown = km;
      shownDay = day;
      factor = wheelFactor ?? factor;
      put(day, total);
      continue;
    }
    if (shown === undefined) {
      // What it shows beyond the rides known was ridden before anyone wrote anything down.
      const before = km - since;
      if (before < -TOLERANCE.km - TOLERANCE.share * since)
        problems.push({
          day,
          code: 'less-than-ridden',
          message: `On ${day} the odometer shows ${plain(km)} km, less than the ${plain(since)} km of the rides before it. Was it set back?`,
        });
      for (const point of points) point.km += Math.max(0, before);
      startKm = Math.max(0, before);
      total = Math.max(km, since);
    } else {
      const ridden = (km - shown) * factor;
      if (ridden < 0) {
        problems.push({
          day,
          code: 'went-back',
          message: `On ${day} the odometer shows ${plain(km)} km, less than ${plain(shown)} km before. Left out; if the display was changed, enter that.`,
        });
        continue;
      }
      const days = daysBetween(shownDay, day) + 1;
      if (ridden > MOST_KM_A_DAY * days) {
        problems.push({
          day,
          code: 'too-far',
          message: `On ${day} the odometer shows ${plain(km)} km, ${plain(ridden)} km more than on ${shownDay}: nobody rides that far in ${days === 1 ? 'a day' : `${days} days`}. Left out; look at the comma, and if the display was changed, enter that.`,
        });
        continue;
      }
      if (since > ridden * (1 + TOLERANCE.share) + TOLERANCE.km)
        problems.push({
          day,
          code: 'rides-exceed',
          message: `Up to ${day} the rides add up to ${plain(since)} km, the odometer says ${plain(ridden)} km. Is its wheel size right?`,
        });
      total += ridden;
    }
    since = 0;
    shown = km;
    shownDay = day;
    put(day, total);
  }
  // A ride of which the next reading knows less does not go beyond it.
  for (let k = points.length - 2; k >= 0; k--) points[k]!.km = Math.min(points[k]!.km, points[k + 1]!.km);
  return { startKm, points, problems };
}

/** Distance at the end of a day, straight between points; undefined where nothing is known. */
export function kmAt({ points }: OdometerLine, day: string): number | undefined {
  const after = points.findIndex((point) => point.day > day);
  if (points.length === 0) return undefined;
  if (after === 0) return points[0]!.km;
  if (after < 0) return points.at(-1)!.km;
  const [a, b] = [points[after - 1]!, points[after]!];
  const share = daysBetween(a.day, day) / Math.max(1, daysBetween(a.day, b.day));
  return a.km + share * (b.km - a.km);
}

/** The distances that a line is made of, day by day: what another count of the same wheels, a bike's own, adds up. */
export function distancesOf({ points, startKm }: OdometerLine): RiddenDistance[] {
  return points
    .map(({ day, km }, k) => ({ day, km: km - (points[k - 1]?.km ?? startKm ?? 0) }))
    .filter(({ km }) => km > 0);
}

const RECENT_DAYS = 56;

/** Distance per week lately: over the last eight weeks, or what is known of them; undefined with less than a week. */
export function kmPerWeek(line: OdometerLine, today: string): number | undefined {
  const first = line.points[0];
  const last = line.points.at(-1);
  if (!first || !last) return undefined;
  const recent = addDays(today, -RECENT_DAYS);
  // Nothing written down lately: the whole time says more than a zero would.
  const start = last.day < recent || first.day > recent ? first.day : recent;
  const days = daysBetween(start, today);
  if (days < 7) return undefined;
  return ((last.km - kmAt(line, start)!) / days) * 7;
}

function plain(km: number): string {
  return String(Math.round(km * 10) / 10);
}
