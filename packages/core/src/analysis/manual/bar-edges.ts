import type { GaugeKnowledge } from '../test-context.js';
import { passesOf, type ManualReadings } from './manual-readings.js';

/** A bar that went out: how many were left, the kilometre of the ride, and the most by which that is off, km. */
export interface BarEdge {
  readonly left: number;
  readonly km: number;
  readonly limitKm: number;
}

/** A rider looks at the gauge now and then. */
const SEEN_LATE_KM = 0.3;
/** The pace of one part of a ride against another: how far the place at a time may lie off, as a share of the nearer end's distance. */
const PACE_LIMIT = 0.2;

/**
 * Where bars went out, by the way: as noted by kilometre, else between two looks at the gauge, whose times are turned into
 * places by the time of the whole ride. Units: km.
 */
export function barEdges(
  manualReadings: ManualReadings,
  gauge: GaugeKnowledge,
  distanceKm: number,
): readonly BarEdge[] {
  const { barsOut = [] } = manualReadings;
  const noted =
    barsOut.length > 0
      ? barsOut.map(({ km, left }) => ({ left, km, limitKm: SEEN_LATE_KM }))
      : betweenLooks(manualReadings, gauge, distanceKm);
  return noted.toSorted((a, b) => a.km - b.km);
}

function betweenLooks(manualReadings: ManualReadings, gauge: GaugeKnowledge, distanceKm: number): BarEdge[] {
  const time = timeOnTheWay(manualReadings);
  if (!time) return [];
  const shareOf = (elapsedS: number): number => Math.min(1, Math.max(0, (elapsedS - time.startS) / time.lengthS));
  const barsOf = (share: number): number => Math.round(share / gauge.stepShare);
  const looks = [
    { share: 0, bars: barsOf(gauge.startShare) },
    ...(manualReadings.gaugeSeen ?? []).map(({ elapsedS, bars }) => ({ share: shareOf(elapsedS), bars })),
    { share: 1, bars: barsOf(gauge.endShare) },
  ].sort((a, b) => a.share - b.share);
  return looks.slice(1).flatMap((look, k) => {
    const before = looks[k]!;
    // Of several that went out between two looks, each did so somewhere in between.
    return Array.from({ length: Math.max(0, before.bars - look.bars) }, (_, gone) => {
      const share = (before.share + look.share) / 2;
      const pace = PACE_LIMIT * Math.min(share, 1 - share);
      return {
        left: before.bars - gone - 1,
        km: share * distanceKm,
        limitKm: ((look.share - before.share) / 2 + pace) * distanceKm,
      };
    });
  });
}

/** From the first start to the last finish, else the time noted for the whole ride. */
function timeOnTheWay(manualReadings: ManualReadings): { startS: number; lengthS: number } | undefined {
  const passes = passesOf(manualReadings.laps);
  const [first, last] = [passes[0], passes.at(-1)];
  if (first && last) return { startS: first.startS, lengthS: last.endS - first.startS };
  const { durationS } = manualReadings;
  return durationS === undefined || !(durationS > 0) ? undefined : { startS: 0, lengthS: durationS };
}
