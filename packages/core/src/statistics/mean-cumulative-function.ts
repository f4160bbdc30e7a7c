import { requireInOpenInterval, requirePositive } from '../errors/index.js';
import { normalQuantile } from './distributions.js';
import type { Watched } from './power-law-process.js';

export interface MeanCumulativePoint {
  readonly at: number;
  /** Units still watched here. */
  readonly atRisk: number;
  /** Mean number of events of one unit up to here. */
  readonly mean: number;
  readonly standardError: number;
  readonly interval: readonly [number, number];
}

/**
 * Mean number of events of a unit up to each use at which one came, where units were watched to different ends.
 *
 * Method: sum of events ÷ units at risk; variance from the scatter between units (robust: events of one unit may hang together), interval on the
 * logarithm by it or by chance alone (Poisson), whichever is wider: two units that happen to agree are not sure. Units that end at an event's own place are still at risk there.
 * Source: Nelson (1995), Technometrics 37, 147–157; Lawless & Nadeau (1995), Technometrics 37, 158–168, eq. 2.3.
 */
export function meanCumulativeFunction(units: readonly Watched[], confidenceLevel = 0.95): MeanCumulativePoint[] {
  requireInOpenInterval({ confidenceLevel }, 0, 1);
  for (const { end } of units) requirePositive({ end });
  const z = normalQuantile((1 + confidenceLevel) / 2);
  const places = [...new Set(units.flatMap(({ events }) => events))].sort((a, b) => a - b);
  const deviations = units.map(() => 0);
  const countsAt = units.map(({ events }) => {
    const counts = new Map<number, number>();
    for (const at of events) counts.set(at, (counts.get(at) ?? 0) + 1);
    return counts;
  });
  let mean = 0;
  let chance = 0;
  return places.map((at) => {
    const risk = units.map(({ end }) => end >= at);
    const atRisk = risk.filter(Boolean).length;
    const counts = countsAt.map((own) => own.get(at) ?? 0);
    const step = counts.reduce((sum, count) => sum + count, 0) / Math.max(1, atRisk);
    mean += step;
    chance += step / Math.max(1, atRisk);
    for (const [k, isAtRisk] of risk.entries()) if (isAtRisk) deviations[k]! += (counts[k]! - step) / atRisk;
    const standardError = Math.sqrt(deviations.reduce((sum, value) => sum + value ** 2, 0));
    const factor = mean > 0 ? Math.exp((z * Math.max(standardError, Math.sqrt(chance))) / mean) : 1;
    return { at, atRisk, mean, standardError, interval: [mean / factor, mean * factor] };
  });
}
