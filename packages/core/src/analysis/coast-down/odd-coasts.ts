import { median, scaledMedianAbsoluteDeviation } from '../../numeric/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import { fitLine } from '../uneven-scatter.js';
import type { Coast } from './fit-coasts.js';

/** Tyres of a bike roll with less than this, however soft. */
export const MOST_ROLLING = 0.018;
/** So many standard deviations of the others, and this share of the rolling resistance, make a coast odd. */
const ODD = 5;
const ODD_SHARE = 0.2;
const MIN_COASTS = 4;

/** A coast that slowed down otherwise than the rest: its place in the list, and by how much more rolling resistance (less: below 0). */
export interface OddCoast {
  readonly index: number;
  readonly moreCrr: number;
}

/**
 * Coasts whose speed runs away from what fits all of them: a brake that dragged in one, a gust, a bend that was not rolled through.
 * `residuals` model − measured in the order of the coasts' samples, m/s.
 */
export function oddCoasts(
  coasts: readonly Coast[],
  residuals: readonly number[],
  crr: number,
  rotatingMassFactor: number,
): OddCoast[] {
  if (coasts.length < MIN_COASTS) return [];
  let from = 0;
  const more = coasts.map(({ timeS }) => {
    const own = residuals.slice(from, from + timeS.length);
    from += timeS.length;
    return ((fitLine(timeS, own)?.slope ?? 0) * rotatingMassFactor) / STANDARD_GRAVITY_MPS2;
  });
  const middle = median(more)!;
  const spread = scaledMedianAbsoluteDeviation(more)!;
  return more.flatMap((value, index) => {
    const moreCrr = value - middle;
    return Math.abs(moreCrr) > Math.max(ODD * spread, ODD_SHARE * crr) ? [{ index, moreCrr }] : [];
  });
}
