import { refusal, requireInOpenInterval, requirePositive, success, type Outcome } from '../errors/index.js';
import { chiSquaredUpperTail, studentTQuantile } from './distributions.js';
import { poissonRate, type Counted } from './poisson-rate.js';

/** Chance of counts at least as uneven over units as these if all had one rate: Pearson's χ² on k − 1; 1 without an event. */
export function evenCountsPValue(units: readonly Counted[]): number {
  const events = units.reduce((sum, unit) => sum + unit.events, 0);
  if (events === 0 || units.length < 2) return 1;
  const pooled = events / units.reduce((sum, unit) => sum + unit.exposure, 0);
  const pearson = units.reduce((sum, unit) => {
    const expected = pooled * unit.exposure;
    return sum + (unit.events - expected) ** 2 / expected;
  }, 0);
  return chiSquaredUpperTail(pearson, units.length - 1);
}

/** Less even counts than chance gives half the time, and the scatter between units has its say. */
const AS_EVEN_AS_CHANCE = 0.5;

export interface ClusteredRate {
  readonly rate: number;
  readonly interval: readonly [number, number];
  readonly evenPValue: number;
}

/**
 * Rate of events over several units that may differ: events ÷ exposure, per unit of exposure. The interval is the exact Poisson one where the counts are as even as
 * chance makes them; else the hull of it and of that by the scatter between units (ratio estimator, Student's t on k − 1, on the logarithm, never less than
 * chance). A test for unevenness before it would let much of it pass: with few units it seldom finds any.
 * Fails: `too-few` (no unit).
 * Source: Cochran (1977), Sampling Techniques, 3rd ed., 2.11 (ratio); exact part as `poissonRate`.
 */
export function clusteredRate(units: readonly Counted[], confidenceLevel = 0.95): Outcome<ClusteredRate, 'too-few'> {
  requireInOpenInterval({ confidenceLevel }, 0, 1);
  for (const { exposure } of units) requirePositive({ exposure });
  if (units.length === 0) return refusal('too-few');
  const events = units.reduce((sum, unit) => sum + unit.events, 0);
  const exposure = units.reduce((sum, unit) => sum + unit.exposure, 0);
  const exact = poissonRate({ events, exposure }, confidenceLevel);
  const evenPValue = evenCountsPValue(units);
  const { rate } = exact;
  const k = units.length;
  if (k < 3 || events < 2 || evenPValue >= AS_EVEN_AS_CHANCE)
    return success({ rate, interval: exact.interval, evenPValue });
  const squares = units.reduce((sum, unit) => sum + (unit.events - rate * unit.exposure) ** 2, 0);
  const ofScatter = (squares * k) / (k - 1) / exposure ** 2;
  const error = Math.sqrt(Math.max(ofScatter, events / exposure ** 2));
  const factor = Math.exp((studentTQuantile((1 + confidenceLevel) / 2, k - 1) * error) / rate);
  return success({
    rate,
    interval: [Math.min(exact.interval[0], rate / factor), Math.max(exact.interval[1], rate * factor)],
    evenPValue,
  });
}
