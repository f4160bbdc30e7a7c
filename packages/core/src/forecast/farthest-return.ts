import type { Calibration } from './calibrate.js';
import { emptyColumns } from './along-way.js';
import type { Parameters } from './parameters.js';
import type { PathOutcome } from './path.js';
import { reachOf } from './path-figures.js';
import { ridePath } from './ride-path.js';
import { CALM_DAY, setOut, USUAL_RESERVE } from './set-out.js';
import { turnedRound, wayOf, type Scenario } from './scenario.js';

const POINTS = 200;
/** A pack that does not run out on the way: what is asked is how much each part of it takes. */
const AMPLE = 50;

/**
 * The farthest point of a way from which one still comes back before the reserve, m; the whole length where that is no question.
 * `factor` makes each part take that much more, for the ends of an interval.
 * Method: charge used out to a point and home from it, by one path each way, wind turned with the rider.
 */
export function farthestReturn(
  calibration: Calibration,
  scenario: Scenario,
  parameters: Parameters,
  likely: Pick<PathOutcome, 'sagV'>,
): (factor: number) => number {
  const ample = { ...parameters, capacity: parameters.capacity * AMPLE };
  const usedBy = (asked: Scenario): { lengthM: number; used: (part: number) => number } | undefined => {
    const way = wayOf(asked);
    const { bike, riding, air, start } = setOut(calibration, asked, ample, CALM_DAY, way.lengthM);
    const columns = emptyColumns(way.lengthM, POINTS);
    const { endedBy, usedShare } = ridePath(bike, way, riding, air, start, columns);
    if (endedBy !== 'finish') return undefined;
    const at = (part: number): number => {
      const share = columns.share[Math.round(part * POINTS)]!;
      return (Number.isNaN(share) ? usedShare : start.share - share) * AMPLE;
    };
    return { lengthM: way.lengthM, used: at };
  };
  const { secondPack, ...single } = scenario;
  // A second pack is charge that is there besides; its mass goes along.
  const alone: Scenario = { ...single, totalMassKg: single.totalMassKg + (secondPack?.massKg ?? 0) };
  const hasHeadings = alone.profile.some(({ headingDeg }) => headingDeg !== undefined);
  const out = usedBy(alone);
  const home = usedBy({
    ...alone,
    profile: turnedRound(alone.profile),
    // Without headings the wind turns with the rider; with them the way home has its own.
    ...(!hasHeadings && alone.windMps !== undefined && { windMps: -alone.windMps }),
    ...(!hasHeadings && alone.wind && { wind: { ...alone.wind, fromDeg: alone.wind.fromDeg + 180 } }),
  });
  const reach = reachOf(likely, parameters, { scenario, calibration });
  const there = reach.usableAh(scenario.reserveShare ?? USUAL_RESERVE) / parameters.capacity;
  return (factor) => {
    if (!out || !home) return NaN;
    const whole = home.used(1);
    let farthest = 0;
    for (let k = 0; k <= POINTS; k++) {
      const part = k / POINTS;
      if (factor * (out.used(part) + whole - home.used(1 - part)) > there) break;
      farthest = part;
    }
    return farthest * out.lengthM;
  };
}
