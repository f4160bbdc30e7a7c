import { fitCommonLine, lineCrossing } from '../statistics/index.js';
import { wearOf, type LifePartKey } from './parts.js';

/** A reading of wear, km after the part was new. */
export interface WearReading {
  readonly km: number;
  readonly value: number;
}
export interface WearForecast {
  readonly value: number;
  readonly limit: number;
  readonly unit: '%' | 'mm';
  /** From now until it has to go, km; 0 where it has reached its limit. Null: it does not wear as far as can be seen. */
  readonly kmLeft: number | null;
  readonly interval95: readonly [number, number | null];
  /** Null: one reading alone tells no rate. */
  readonly per1000Km: number | null;
  readonly readings: number;
}

/** The gauge is known to this many degrees of freedom: as after so many readings of one thing. */
const KNOWN_FROM = 6;
/** Rain, salt, load and cadence move the rate of wear by about this much. */
const RATE_SCATTER = 0.25;

/**
 * Kilometres that a part has left, with the interval in which its own reading will reach the limit. `isFromNew`: it was new at
 * 0 km and had its measure as new; else how worn it was then is not known, and it takes two readings.
 * Units: km and the part's unit. Undefined: the part has no measure, or was never read.
 */
export function wearForecast(
  part: LifePartKey,
  readings: readonly WearReading[],
  kmNow: number,
  isFromNew = true,
): WearForecast | undefined {
  const measure = wearOf(part);
  if (!measure || readings.length === 0) return undefined;
  const ordered = [...readings].sort((a, b) => a.km - b.km);
  const points = [
    ...(isFromNew ? [{ x: 0, y: measure.new }] : []),
    ...ordered.map(({ km, value }) => ({ x: km, y: value })),
  ];
  const line = fitCommonLine(points, { scatter: measure.readingUncertainty, degreesOfFreedom: KNOWN_FROM });
  const last = ordered.at(-1)!;
  const base = { value: last.value, limit: measure.limit, unit: measure.unit, readings: readings.length };
  const towards = Math.sign(measure.limit - measure.new);
  if (towards * (last.value - measure.limit) >= 0)
    return {
      ...base,
      kmLeft: 0,
      interval95: [0, 0],
      per1000Km: line.ok ? line.value.slope * 1000 : null,
    };
  // One reading of a part that was not new: a second will tell how fast it wears.
  if (!line.ok) return { ...base, kmLeft: null, interval95: [0, null], per1000Km: null };
  const from = Math.max(kmNow, last.km);
  const { at, interval95 } = lineCrossing(line.value, measure.limit, from, {
    rateScatter: RATE_SCATTER,
    wanderFrom: last.km,
  });
  return {
    ...base,
    kmLeft: at === null || towards * line.value.slope <= 0 ? null : at - from,
    interval95: [interval95[0] - from, interval95[1] === null ? null : interval95[1] - from],
    per1000Km: line.value.slope * 1000,
  };
}
