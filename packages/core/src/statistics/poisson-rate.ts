import { CoreError, requireInOpenInterval, requirePositive } from '../errors/index.js';
import { findRoot, logGamma, regularizedBeta } from '../numeric/index.js';
import { chiSquaredQuantile } from './distributions.js';

/** Events that were counted, and over how much of whatever they may happen in (km, hours, …). */
export interface Counted {
  readonly events: number;
  readonly exposure: number;
}

export interface PoissonRate {
  readonly rate: number;
  readonly interval: readonly [number, number];
  /** With no event: the rate that would have shown one with the confidence asked, from one side. Else the two-sided upper end. */
  readonly upperBound: number;
}

/**
 * Rate of events that come independently of each other, per unit of exposure, with the exact interval.
 * Fails:  throws `invalid-input` for a count that is no whole number ≥ 0, `not-positive` for an exposure ≤ 0.
 * Source: Garwood (1936), Biometrika 28, 437–442.
 */
export function poissonRate({ events, exposure }: Counted, confidenceLevel = 0.95): PoissonRate {
  requireCount(events);
  requirePositive({ exposure });
  requireInOpenInterval({ confidenceLevel }, 0, 1);
  const tail = (1 - confidenceLevel) / 2;
  const lower = events === 0 ? 0 : chiSquaredQuantile(tail, 2 * events) / 2 / exposure;
  const upper = chiSquaredQuantile(1 - tail, 2 * events + 2) / 2 / exposure;
  return {
    rate: events / exposure,
    interval: [lower, upper],
    upperBound: events === 0 ? -Math.log(1 - confidenceLevel) / exposure : upper,
  };
}

export interface PoissonRateRatio {
  /** a ÷ b; infinite where only a has events, not a number where neither has. */
  readonly ratio: number;
  readonly interval: readonly [number, number];
  readonly pValue: number;
}

/**
 * Ratio of two such rates, a ÷ b. Given all events together, those of a are binomial: the interval of that share is turned into one of the ratio.
 * p: the sum of all outcomes that are no likelier than the one seen.
 * Source: Clopper & Pearson (1934), Biometrika 26, 404–413; Przyborowski & Wilenski (1940), Biometrika 31, 313–323.
 */
export function poissonRateRatio(a: Counted, b: Counted, confidenceLevel = 0.95): PoissonRateRatio {
  for (const { events, exposure } of [a, b]) {
    requireCount(events);
    requirePositive({ exposure });
  }
  requireInOpenInterval({ confidenceLevel }, 0, 1);
  const n = a.events + b.events;
  const even = a.exposure / (a.exposure + b.exposure);
  const [low, high] = clopperPearson(a.events, n, confidenceLevel);
  const toRatio = (share: number): number =>
    share >= 1 ? Infinity : (share / (1 - share)) * (b.exposure / a.exposure);
  return {
    ratio: n === 0 ? NaN : a.events / a.exposure / (b.events / b.exposure),
    interval: [toRatio(low), toRatio(high)],
    pValue: binomialTwoSided(a.events, n, even),
  };
}

/** Exact interval of a share, `hits` of `n`. Source: Clopper & Pearson (1934). */
export function clopperPearson(hits: number, n: number, confidenceLevel = 0.95): readonly [number, number] {
  requireCount(hits);
  requireCount(n);
  const tail = (1 - confidenceLevel) / 2;
  return [
    hits === 0 ? 0 : betaQuantile(tail, hits, n - hits + 1),
    hits === n ? 1 : betaQuantile(1 - tail, hits + 1, n - hits),
  ];
}

function betaQuantile(p: number, a: number, b: number): number {
  return findRoot((x) => regularizedBeta(x, a, b) - p, 0, 1, 1e-15);
}

/** Outcomes that differ by less than this factor are equally likely. */
const SAME = 1 + 1e-7;

function binomialTwoSided(hits: number, n: number, share: number): number {
  if (n === 0) return 1;
  const density = (k: number): number =>
    Math.exp(
      logGamma(n + 1) - logGamma(k + 1) - logGamma(n - k + 1) + k * Math.log(share) + (n - k) * Math.log1p(-share),
    );
  const seen = density(hits) * SAME;
  let sum = 0;
  for (let k = 0; k <= n; k++) {
    const one = density(k);
    if (one <= seen) sum += one;
  }
  return Math.min(1, sum);
}

function requireCount(events: number): void {
  if (!(Number.isInteger(events) && events >= 0))
    throw new CoreError('invalid-input', `A count is a whole number, not ${events}.`);
}
