import { findRoot } from '../numeric/index.js';
import { normalCdf, studentTQuantile } from '../statistics/index.js';

const SHARE = 0.975;
/** 97.5 % quantile of the normal distribution. */
const NORMAL = 1.959963984540054;
/** A rectangle beside less than this of the variance is all there is. */
const ALL = 1 - 1e-9;
/** Shares of the variance below this change the factor by less than a thousandth. */
const NOTHING = 0.05;

/**
 * Standard uncertainties that a 95 % interval reaches to either side, for the sum of one rectangular error (a stated limit)
 * and normal ones: 1.645 where the limit is all there is, 1.96 where it is nothing, t with few degrees of freedom.
 * The usual 1.96 for a sum that one limit dominates would hold the truth in 100 of 100 cases and call it 95.
 *
 * Shapes: `rectangularShare` of the variance, 0…1; the rest normal, widened by t ÷ 1.96 for `degreesOfFreedom`.
 * Method: root of the distribution function of uniform + normal, which is known in closed form.
 * Source: JCGM 100:2008 (GUM), G.2.2 and 6.3.3 (a dominating rectangular distribution).
 */
export function coverageFactor(rectangularShare: number, degreesOfFreedom: number): number {
  const widening = studentTQuantile(SHARE, degreesOfFreedom) / NORMAL;
  if (!(rectangularShare > NOTHING)) return NORMAL * widening;
  const a = Math.sqrt(3 * Math.min(1, rectangularShare));
  // 2·0.975 − 1 of the rectangle lie within this.
  if (rectangularShare >= ALL) return (2 * SHARE - 1) * a;
  const sigma = Math.sqrt(1 - rectangularShare) * widening;
  // ∫ Φ over the rectangle: x·Φ(x) + φ(x) is the integral of Φ.
  const area = (x: number): number => x * normalCdf(x) + Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI);
  const below = (x: number): number => (sigma / (2 * a)) * (area((x + a) / sigma) - area((x - a) / sigma));
  return findRoot((x) => below(x) - SHARE, 0, a + 8 * sigma, 1e-6);
}
