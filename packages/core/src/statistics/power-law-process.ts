import { refusal, requireInOpenInterval, requirePositive, success, type Outcome } from '../errors/index.js';
import { findRoot } from '../numeric/index.js';
import { chiSquaredQuantile, chiSquaredUpperTail } from './distributions.js';

/** One unit that was watched from 0 to `end`, and where its events came; what breaks is mended and goes on. */
export interface Watched {
  readonly end: number;
  readonly events: readonly number[];
}

export interface PowerLawProcess {
  /** Below 1: events become rarer (infant trouble); above 1: they become more frequent (wear-out). */
  readonly shape: number;
  readonly shapeInterval: readonly [number, number];
  /** Expected events of one unit up to x: scale · x^shape. */
  readonly scale: number;
  readonly n: number;
  /** Chance of a trend as marked, either way, if there were none. */
  readonly pValue: number;
}

/**
 * Trend of events over use: a Poisson process of intensity scale · shape · x^(shape − 1), common to all units, each watched to its own end.
 *
 * Method: maximum likelihood; the interval holds 2·n·shape ÷ estimate for χ² on 2n, exact where all ends are the same.
 * Fails:  `too-few` (< 3 events). Events at 0 or beyond the end are a caller's mistake.
 * Source: Crow (1974) in Reliability and Biometry, 379–410; MIL-HDBK-189C, 5.4.
 */
export function powerLawProcess(
  units: readonly Watched[],
  confidenceLevel = 0.95,
): Outcome<PowerLawProcess, 'too-few'> {
  requireInOpenInterval({ confidenceLevel }, 0, 1);
  for (const { end, events } of units) {
    requirePositive({ end });
    for (const at of events) {
      requirePositive({ at });
      requirePositive({ 'end − event': end - at + Number.EPSILON * end });
    }
  }
  const n = units.reduce((sum, { events }) => sum + events.length, 0);
  if (n < 3) return refusal('too-few');
  const longest = Math.max(...units.map(({ end }) => end));
  const logs = units.flatMap(({ events }) => events.map((at) => Math.log(at / longest)));
  const sumOfLogs = logs.reduce((sum, value) => sum + value, 0);
  const ends = units.map(({ end }) => end / longest);
  const excess = (shape: number): number => {
    const powers = ends.map((end) => end ** shape);
    const sum = powers.reduce((a, b) => a + b, 0);
    const weighted = powers.reduce((a, power, k) => a + power * Math.log(ends[k]!), 0);
    return 1 / shape + sumOfLogs / n - weighted / sum;
  };
  // Events all at the very end: no finite shape.
  if (excess(1e3) > 0) return refusal('too-few');
  const shape = findRoot(excess, 1e-6, 1e3, 1e-12);
  const scale = n / units.reduce((sum, { end }) => sum + end ** shape, 0);
  const tail = (1 - confidenceLevel) / 2;
  const quantile = (p: number): number => chiSquaredQuantile(p, 2 * n);
  const upper = chiSquaredUpperTail((2 * n) / shape, 2 * n);
  return success({
    shape,
    shapeInterval: [(shape * quantile(tail)) / (2 * n), (shape * quantile(1 - tail)) / (2 * n)],
    scale,
    n,
    pValue: Math.min(1, 2 * Math.min(upper, 1 - upper)),
  });
}
