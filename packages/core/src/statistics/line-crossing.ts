import { refusal, requirePositive, success, type Outcome } from '../errors/index.js';
import { findRoot } from '../numeric/index.js';
import { studentTQuantile } from './distributions.js';

export interface LinePoint {
  readonly x: number;
  readonly y: number;
  /** Points of one group share a level; all groups share the slope. */
  readonly group?: string;
}
/** Scatter about a line that is known beforehand, worth so many degrees of freedom. */
export interface KnownScatter {
  readonly scatter: number;
  readonly degreesOfFreedom: number;
}
export interface CommonLine {
  readonly slope: number;
  readonly slopeError: number;
  /** Standard deviation of one point about the line, what was known of it beforehand weighed in. */
  readonly scatter: number;
  readonly degreesOfFreedom: number;
  readonly groups: ReadonlyMap<string, { readonly n: number; readonly meanX: number; readonly meanY: number }>;
  readonly sumOfSquaresX: number;
}

/**
 * Straight line with a level for each group, by least squares; its scatter pooled with what is known of it beforehand, so that two points do not
 * pass for an exact line.
 * Fails: `too-few` (fewer points than levels and slope), `one-place` (no spread in x within any group).
 * Source: Draper & Smith (1998), Applied Regression Analysis, 3rd ed., 1.4, 14.1; pooling as by a scaled inverse χ² prior.
 */
export function fitCommonLine(
  points: readonly LinePoint[],
  known: KnownScatter,
): Outcome<CommonLine, 'one-place' | 'too-few'> {
  requirePositive({ ...known });
  const groups = new Map<string, { n: number; meanX: number; meanY: number }>();
  for (const { x, y, group = '' } of points) {
    const one = groups.get(group) ?? { n: 0, meanX: 0, meanY: 0 };
    one.n++;
    one.meanX += (x - one.meanX) / one.n;
    one.meanY += (y - one.meanY) / one.n;
    groups.set(group, one);
  }
  if (points.length < groups.size + 1) return refusal('too-few');
  let [sxx, sxy, syy] = [0, 0, 0];
  for (const { x, y, group = '' } of points) {
    const { meanX, meanY } = groups.get(group)!;
    sxx += (x - meanX) ** 2;
    sxy += (x - meanX) * (y - meanY);
    syy += (y - meanY) ** 2;
  }
  if (!(sxx > 0)) return refusal('one-place');
  const slope = sxy / sxx;
  const residual = Math.max(0, syy - slope * sxy);
  const degreesOfFreedom = known.degreesOfFreedom + points.length - groups.size - 1;
  const scatter = Math.sqrt((known.degreesOfFreedom * known.scatter ** 2 + residual) / degreesOfFreedom);
  return success({
    slope,
    slopeError: scatter / Math.sqrt(sxx),
    scatter,
    degreesOfFreedom,
    groups,
    sumOfSquaresX: sxx,
  });
}

export interface Crossing {
  /** Where the line itself reaches the limit; null where it does not lead there. */
  readonly at: number | null;
  /** Where the next readings reach it: 95 %; null for an end that the line never surely reaches. */
  readonly interval95: readonly [number, number | null];
}

const FARTHEST_SPANS = 200;

/**
 * Where a line will reach a limit, seen from its last point on: prediction interval by inversion, widened by the wander of the rate itself,
 * `rateScatter` of what has come since the last reading, at `wanderFrom`, and is still to come.
 * Source: Fieller (1954), J. R. Stat. Soc. B 16, 175–185, in the form of Draper & Smith (1998), 3.2, with 1 + 1/n for a single reading.
 */
export function lineCrossing(
  line: CommonLine,
  limit: number,
  from: number,
  { group = '', rateScatter = 0, wanderFrom = from, confidenceLevel = 0.95 } = {},
): Crossing {
  const { n, meanX, meanY } = line.groups.get(group)!;
  const t = studentTQuantile((1 + confidenceLevel) / 2, line.degreesOfFreedom);
  const height = (x: number): number => meanY + line.slope * (x - meanX);
  const direction = Math.sign(limit - height(from)) || 1;
  /** How far the limit is still away, positive before it. */
  const left = (x: number): number => direction * (limit - height(x));
  const spread = (x: number): number =>
    t *
    Math.hypot(
      line.scatter * Math.sqrt(1 + 1 / n + (x - meanX) ** 2 / line.sumOfSquaresX),
      rateScatter * line.slope * Math.max(0, x - wanderFrom),
    );
  const leads = line.slope * direction > 0;
  const at = leads ? Math.max(from, meanX + (limit - meanY) / line.slope) : null;
  const reach = FARTHEST_SPANS * Math.max(Math.sqrt(line.sumOfSquaresX), Math.abs(from), 1e-9);
  const first = (of: (x: number) => number): number | null => {
    if (of(from) <= 0) return from;
    let before = from;
    for (let step = reach / 1e5; before < reach + from; step *= 1.15) {
      const next = before + step;
      if (of(next) <= 0) return findRoot(of, before, next, 1e-9 * reach);
      before = next;
    }
    return null;
  };
  return {
    at,
    interval95: [first((x) => left(x) - spread(x)) ?? from + reach, first((x) => left(x) + spread(x))],
  };
}
