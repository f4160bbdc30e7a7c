import { studentTQuantile, summarizeSample } from '../statistics/index.js';

export interface SocketUse {
  /** kWh at the socket for 100 km. */
  readonly kWhPer100Km: number;
  /** Null with fewer than three spans from full to full. */
  readonly interval95: readonly [number, number] | null;
  readonly km: number;
  readonly charges: number;
  /** Spans that took more than any bike does: a figure there is written wrongly, or a ride is missing. */
  readonly oddSpans: number;
}
export interface ChargeAt {
  readonly km: number;
  /** Null: nobody metered it; the span it falls into is void. */
  readonly kWh: number | null;
  readonly isFull: boolean;
}

/** Shorter spans from full to full say little: the display's last kilometre weighs too much. Units: km. */
const SHORTEST_SPAN_KM = 5;
/** From the socket, with a heavy load up hills and all that the charger keeps. Units: kWh/km. */
const MOST_KWH_PER_KM = 0.12;

/**
 * Energy from the socket for distance, from one full charge to the next: what went in between is what was ridden.
 * Undefined: not two full charges with a meter and 5 km between them. The interval is that of the ratio over spans, each weighed by its distance. A span that no bike takes is left out and counted.
 */
export function socketUse(charges: readonly ChargeAt[]): SocketUse | undefined {
  const spans: { km: number; kWh: number }[] = [];
  let open: { km: number; kWh: number } | undefined;
  let oddSpans = 0;
  for (const { km, kWh, isFull } of [...charges].sort((a, b) => a.km - b.km)) {
    if (kWh === null) {
      // What went in is not known; where it was full, counting begins again there.
      open = isFull ? { km, kWh: 0 } : undefined;
      continue;
    }
    if (open) open.kWh += kWh;
    if (!isFull) continue;
    if (open && km - open.km < SHORTEST_SPAN_KM) continue;
    if (open) {
      const span = { km: km - open.km, kWh: open.kWh };
      if (span.kWh > MOST_KWH_PER_KM * span.km) oddSpans++;
      else spans.push(span);
    }
    open = { km, kWh: 0 };
  }
  const km = spans.reduce((sum, span) => sum + span.km, 0);
  if (spans.length === 0) return undefined;
  const ratio = spans.reduce((sum, span) => sum + span.kWh, 0) / km;
  const n = spans.length;
  // Ratio estimator: residuals of each span about the common ratio.
  const residuals = spans.map((span) => span.kWh - ratio * span.km);
  const error = n < 3 ? 0 : Math.sqrt(summarizeSample(residuals).variance / n) / (km / n);
  const half = n < 3 ? 0 : studentTQuantile(0.975, n - 1) * error;
  return {
    kWhPer100Km: 100 * ratio,
    interval95: n < 3 ? null : [100 * Math.max(0, ratio - half), 100 * (ratio + half)],
    km,
    charges: charges.filter(({ kWh }) => kWh !== null).length,
    oddSpans,
  };
}
