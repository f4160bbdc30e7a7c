import { CoreError, requireInOpenInterval } from '../errors/index.js';
import { findRoot } from '../numeric/index.js';
import { normalCdf, normalQuantile } from './distributions.js';

/** Looks beyond this are taken together: what they could still spend is nothing. */
const MOST_LOOKS = 40;
/** Points of the sub-density between two looks; even, for Simpson's rule. */
const STEPS = 200;
/** A look that spends less than this cannot stop anything. */
const LEAST_SPENT = 1e-12;

/**
 * Two-sided nominal levels at which each of several looks is to be judged, so that all together spend what is given.
 *
 * Shapes: `fractions` of the information at each look, increasing, > 0; `spent` the two-sided level spent up to and with each look.
 * Method: the sub-density of the score is carried from look to look (Armitage, McPherson and Rowe) on a grid, by Simpson's rule.
 * Fails:  throws `length-mismatch`, `not-increasing`.
 * Source: Lan & DeMets (1983), Biometrika 70(3), 659–663.
 */
export function levelsOfLooks(fractions: readonly number[], spent: readonly number[]): number[] {
  if (fractions.length !== spent.length)
    throw new CoreError('length-mismatch', `${fractions.length} looks, ${spent.length} levels`);
  const levels: number[] = [];
  let before: { limit: number; density: Float64Array } | undefined;
  fractions.forEach((fraction, k) => {
    const previous = k === 0 ? 0 : fractions[k - 1]!;
    if (!(fraction > previous)) throw new CoreError('not-increasing', `look ${k + 1} lies at ${fraction}`);
    const share = spent[k]! - (k === 0 ? 0 : spent[k - 1]!);
    const spread = Math.sqrt(fraction - previous);
    if (k >= MOST_LOOKS || share <= LEAST_SPENT) return void levels.push(0);
    const outside = (limit: number): number => crossing(before, limit, spread);
    // Score of the look at which just the share lies outside.
    const highest = spread * 40 + (before?.limit ?? 0);
    const limit = outside(0) <= share ? 0 : findRoot((x) => outside(x) - share, 0, highest, 1e-11);
    levels.push(2 * normalCdf(-limit / Math.sqrt(fraction)));
    before = { limit, density: carryOn(before, limit, spread) };
  });
  return levels;
}

/** Probability that the score lies beyond ±limit at a look, having stayed within before. */
function crossing(before: { limit: number; density: Float64Array } | undefined, limit: number, spread: number): number {
  if (!before) return 2 * normalCdf(-limit / spread);
  const step = (2 * before.limit) / STEPS;
  let sum = 0;
  for (let i = 0; i <= STEPS; i++) {
    const x = -before.limit + i * step;
    const out = normalCdf((-limit - x) / spread) + normalCdf((x - limit) / spread);
    sum += simpson(i) * before.density[i]! * out;
  }
  return (sum * step) / 3;
}

function carryOn(
  before: { limit: number; density: Float64Array } | undefined,
  limit: number,
  spread: number,
): Float64Array {
  const phi = (z: number): number => Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI);
  return Float64Array.from({ length: STEPS + 1 }, (_, j) => {
    const y = -limit + (2 * limit * j) / STEPS;
    if (!before) return phi(y / spread) / spread;
    const step = (2 * before.limit) / STEPS;
    let sum = 0;
    for (let i = 0; i <= STEPS; i++)
      sum += simpson(i) * before.density[i]! * phi((y - (-before.limit + i * step)) / spread);
    return (sum * step) / 3 / spread;
  });
}

const simpson = (i: number): number => (i === 0 || i === STEPS ? 1 : i % 2 === 1 ? 4 : 2);

/**
 * Level spent up to a share of the information, of the kind that is sparing early: on either side 2 − 2Φ(z/√t), z for a quarter of
 * the level.
 * Source: Lan & DeMets (1983); after O'Brien & Fleming (1979), Biometrics 35(3), 549–556.
 */
export function spentEarlySparing(fraction: number, level: number): number {
  requireInOpenInterval({ level }, 0, 1);
  if (fraction >= 1) return level;
  if (fraction <= 0) return 0;
  return 4 * normalCdf(-normalQuantile(1 - level / 4) / Math.sqrt(fraction));
}
