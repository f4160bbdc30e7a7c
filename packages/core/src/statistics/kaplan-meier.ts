import { requireInOpenInterval, requirePositive } from '../errors/index.js';
import { normalQuantile } from './distributions.js';

/** How long a thing lasted; not failed: it still runs, or was taken off sound. */
export interface Lifetime {
  readonly life: number;
  readonly isFailed: boolean;
}

export interface SurvivalPoint {
  readonly at: number;
  readonly atRisk: number;
  readonly failed: number;
  readonly surviving: number;
  readonly interval: readonly [number, number];
}
export interface Survival {
  readonly points: readonly SurvivalPoint[];
  /** Where half are gone; null while more than half survive. */
  readonly median: number | null;
}

/**
 * Share that survives each life at which one failed, others being cut off before.
 * Method: product limit, Greenwood's variance, interval on log(−log S). A thing cut off at the life at which another fails was still at risk.
 * Source: Kaplan & Meier (1958), JASA 53, 457–481; Kalbfleisch & Prentice (2002), 1.4.
 */
export function kaplanMeier(lifetimes: readonly Lifetime[], confidenceLevel = 0.95): Survival {
  requireInOpenInterval({ confidenceLevel }, 0, 1);
  for (const { life } of lifetimes) requirePositive({ life });
  const z = normalQuantile((1 + confidenceLevel) / 2);
  const failures = new Map<number, number>();
  for (const { life, isFailed } of lifetimes) if (isFailed) failures.set(life, (failures.get(life) ?? 0) + 1);
  const sorted = lifetimes.map(({ life }) => life).sort((a, b) => a - b);
  let gone = 0;
  let surviving = 1;
  let greenwood = 0;
  const places = [...failures].sort(([a], [b]) => a - b);
  const points = places.map(([at, failed]): SurvivalPoint => {
    while (sorted[gone]! < at) gone++;
    const atRisk = sorted.length - gone;
    surviving *= 1 - failed / atRisk;
    greenwood += failed / (atRisk * (atRisk - failed));
    return { at, atRisk, failed, surviving, interval: logLog(surviving, greenwood, z) };
  });
  return { points, median: points.find((point) => point.surviving <= 0.5 + 1e-12)?.at ?? null };
}

function logLog(surviving: number, greenwood: number, z: number): readonly [number, number] {
  if (surviving <= 0 || !Number.isFinite(greenwood)) return [0, surviving <= 0 ? 0 : 1];
  const log = Math.log(surviving);
  const spread = Math.exp((z * Math.sqrt(greenwood)) / Math.abs(log));
  return [surviving ** spread, surviving ** (1 / spread)];
}
