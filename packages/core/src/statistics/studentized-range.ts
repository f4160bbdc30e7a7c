import { requireInOpenInterval, requirePositive } from '../errors/index.js';
import { findRoot, integrateGaussLegendre, logGamma } from '../numeric/index.js';
import { normalCdf } from './distributions.js';

const SQRT_2PI = Math.sqrt(2 * Math.PI);

/** P(range of k standard normals ≤ w) = k ∫ φ(z) [Φ(z) − Φ(z − w)]^(k−1) dz, z the largest of them. */
function integrateRangeCdf(w: number, groups: number): number {
  return (
    groups *
    integrateGaussLegendre(
      (z) => (Math.exp((-z * z) / 2) / SQRT_2PI) * (normalCdf(z) - normalCdf(z - w)) ** (groups - 1),
      -8.5,
      8.5,
      4,
    )
  );
}

const PANEL_WIDTH = 0.5;
const NODES_PER_PANEL = 14;
/** Beyond this range of standard normals the cdf is 1 to double precision for up to 200 groups. */
const RANGE_END = 19;
const tables = new Map<number, readonly Float64Array[]>();

/** Chebyshev coefficients of the range cdf on panels of w; made once for a number of groups, since one quantile asks for thousands of values. */
function rangeTable(groups: number): readonly Float64Array[] {
  const known = tables.get(groups);
  if (known) return known;
  const table = Array.from({ length: RANGE_END / PANEL_WIDTH }, (_, panel) => {
    const angles = Array.from({ length: NODES_PER_PANEL }, (_v, k) => (Math.PI * (k + 0.5)) / NODES_PER_PANEL);
    const values = angles.map((angle) => integrateRangeCdf((panel + 0.5 + Math.cos(angle) / 2) * PANEL_WIDTH, groups));
    return Float64Array.from({ length: NODES_PER_PANEL }, (_v, j) => {
      const sum = values.reduce((total, value, k) => total + value * Math.cos(j * angles[k]!), 0);
      return ((j === 0 ? 1 : 2) * sum) / NODES_PER_PANEL;
    });
  });
  tables.set(groups, table);
  return table;
}

function rangeCdf(w: number, table: readonly Float64Array[]): number {
  if (w >= RANGE_END) return 1;
  const panel = Math.floor(w / PANEL_WIDTH);
  const coefficients = table[panel]!;
  const x = 2 * (w / PANEL_WIDTH - panel) - 1;
  // Clenshaw's recurrence.
  let b1 = 0;
  let b2 = 0;
  for (let j = NODES_PER_PANEL - 1; j > 0; j--) [b1, b2] = [2 * x * b1 - b2 + coefficients[j]!, b1];
  return x * b1 - b2 + coefficients[0]!;
}

/**
 * P(Q ≤ q) for the studentized range of `groups` means with `degreesOfFreedom` for the variance.
 *
 * Method: ∫ P(range ≤ q·s) f(s) ds over s = √(χ²/ν), both integrals by Gauss–Legendre.
 * Source: definition as in Copenhaver & Holland (1988), J. Stat. Comput. Simul. 30(1), 1–15.
 */
export function studentizedRangeCdf(q: number, groups: number, degreesOfFreedom: number): number {
  requirePositive({ degreesOfFreedom });
  requireInOpenInterval({ groups }, 1, 200);
  if (q <= 0) return 0;
  const nu = degreesOfFreedom;
  const logScale = (nu / 2) * Math.log(nu) - logGamma(nu / 2) - (nu / 2 - 1) * Math.LN2;
  const table = rangeTable(groups);
  // The density of s has mean ≈ 1 and sd ≈ 1/√(2ν): 12 sd to either side hold all but 1e-16 of it, unless ν is tiny.
  const spread = 1 / Math.sqrt(2 * nu);
  const lower = Math.max(0, 1 - 10 * spread);
  const upper = 1 + 14 * spread + (nu < 4 ? 8 : 0);
  const below = integrateGaussLegendre(
    (s) => (s <= 0 ? 0 : Math.exp(logScale + (nu - 1) * Math.log(s) - (nu * s * s) / 2) * rangeCdf(q * s, table)),
    lower,
    upper,
    3,
  );
  return Math.min(1, below);
}

/** The q with `studentizedRangeCdf(q) = p`. Throws `out-of-range` unless 0 < p < 1. */
export function studentizedRangeQuantile(p: number, groups: number, degreesOfFreedom: number): number {
  requireInOpenInterval({ p }, 0, 1);
  const key = `${p} ${groups} ${degreesOfFreedom}`;
  const known = quantiles.get(key);
  if (known !== undefined) return known;
  const q = findQuantile(p, groups, degreesOfFreedom);
  if (quantiles.size >= QUANTILES_KEPT) quantiles.clear();
  quantiles.set(key, q);
  return q;
}
/** All pairs of a design with one error ask for the same quantile. */
const quantiles = new Map<string, number>();
const QUANTILES_KEPT = 500;

function findQuantile(p: number, groups: number, degreesOfFreedom: number): number {
  let upper = 4;
  while (studentizedRangeCdf(upper, groups, degreesOfFreedom) < p && upper < 1e4) upper *= 2;
  return findRoot((q) => studentizedRangeCdf(q, groups, degreesOfFreedom) - p, 0, upper, 1e-9);
}
