import { refusal, success, type Outcome } from '../errors/index.js';
import { median } from '../numeric/index.js';
import { normalCdf, normalQuantile } from './distributions.js';
import { midRanks } from './ranks.js';

/** Above this count of values in a sample the exact distribution gives way to the normal one. */
const EXACT_LIMIT = 50;

export interface ShiftEstimate {
  readonly estimate: number;
  /** Absent when ties or large samples rule the exact interval out. */
  readonly lower?: number;
  readonly upper?: number;
  readonly pValue: number;
  readonly statistic: number;
  readonly exact: boolean;
}

/** Counts of arrangements for each value of U, by recurrence over both samples. */
function mannWhitneyCounts(m: number, n: number): Float64Array {
  let table = Array.from({ length: n + 1 }, () => Float64Array.of(1));
  for (let i = 1; i <= m; i++) {
    const next = [Float64Array.of(1)];
    for (let j = 1; j <= n; j++) {
      const counts = new Float64Array(i * j + 1);
      counts.set(next[j - 1]!); // U(i, j−1)
      addShifted(counts, table[j]!, j); // U(i−1, j) shifted by j
      next.push(counts);
    }
    table = next;
  }
  return table[n]!;
}

function addShifted(to: Float64Array, from: Float64Array, shift: number): void {
  for (let k = 0; k < from.length; k++) to[k + shift]! += from[k]!;
}

/** Counts of sign patterns for each sum of positive ranks. */
function signedRankCounts(n: number): Float64Array {
  let counts: Float64Array = Float64Array.of(1);
  for (let rank = 1; rank <= n; rank++) {
    const next = new Float64Array(counts.length + rank);
    next.set(counts);
    addShifted(next, counts, rank);
    counts = next;
  }
  return counts;
}

/** Two-sided p and the critical index for the interval from a symmetric discrete distribution. */
function exactInference(counts: Float64Array, statistic: number, confidenceLevel: number) {
  const total = counts.reduce((sum, count) => sum + count, 0);
  const lowerTail = (value: number): number => {
    let sum = 0;
    for (let u = 0; u <= Math.min(value, counts.length - 1); u++) sum += counts[u]!;
    return sum / total;
  };
  const mirrored = counts.length - 1 - statistic;
  const pValue = Math.min(1, 2 * lowerTail(Math.min(statistic, mirrored)));
  const tail = (1 - confidenceLevel) / 2;
  // The smallest value whose lower tail reaches the level, as in the usual exact quantile; at least one to keep a finite interval.
  let critical = 0;
  for (let sum = counts[0]!; sum / total < tail; sum += counts[critical]!) critical++;
  return { pValue, critical: Math.max(1, critical) };
}

/**
 * Mann–Whitney test and Hodges–Lehmann shift of a against b, exact without ties up to 50 values each.
 * With ties or larger samples: the p-value is the normal one with continuity and tie correction, and no interval is given.
 * Source: Hollander, Wolfe & Chicken (2014), Nonparametric Statistical Methods, ch. 4.
 */
export function mannWhitney(
  a: readonly number[],
  b: readonly number[],
  confidenceLevel: number,
): Outcome<ShiftEstimate, 'too-few' | 'no-spread'> {
  if (a.length < 1 || b.length < 1) return refusal('too-few');
  const { ranks, tieSum } = midRanks([...a, ...b]);
  const statistic = ranks.slice(0, a.length).reduce((sum, rank) => sum + rank, 0) - (a.length * (a.length + 1)) / 2;
  const differences = Float64Array.from(a.flatMap((x) => b.map((y) => x - y))).sort();
  const estimate = median(differences)!;
  if (tieSum === 0 && a.length <= EXACT_LIMIT && b.length <= EXACT_LIMIT) {
    const counts = mannWhitneyCounts(a.length, b.length);
    const { pValue, critical } = exactInference(counts, statistic, confidenceLevel);
    return success({
      estimate,
      lower: differences[critical - 1]!,
      upper: differences[differences.length - critical]!,
      pValue,
      statistic,
      exact: true,
    });
  }
  const normal = mannWhitneyNormalPValue(a, b);
  return normal.ok ? success({ estimate, pValue: normal.value, statistic, exact: false }) : normal;
}

/** Two-sided p of the Mann–Whitney test by the normal distribution, with continuity and tie correction. */
export function mannWhitneyNormalPValue(a: readonly number[], b: readonly number[]): Outcome<number, 'no-spread'> {
  const { ranks, tieSum } = midRanks([...a, ...b]);
  const n = a.length + b.length;
  const statistic = ranks.slice(0, a.length).reduce((sum, rank) => sum + rank, 0) - (a.length * (a.length + 1)) / 2;
  const variance = ((a.length * b.length) / 12) * (n + 1 - tieSum / (n * (n - 1)));
  if (!(variance > 0)) return refusal('no-spread');
  const centred = statistic - (a.length * b.length) / 2;
  const z = (centred - Math.sign(centred) * 0.5) / Math.sqrt(variance);
  return success(Math.min(1, 2 * normalCdf(-Math.abs(z))));
}

/**
 * Wilcoxon signed-rank test with the pseudo-median of the differences and its interval, exact up to 50 differences without ties or zeros.
 * Otherwise zeros are dropped, and p-value and interval are those of the normal distribution with continuity and tie correction.
 * Fails:  `too-few` below two differences, or where none is left that is not zero.
 * Source: Hollander, Wolfe & Chicken (2014), Nonparametric Statistical Methods, ch. 3.
 */
export function wilcoxonSignedRank(
  differences: readonly number[],
  confidenceLevel: number,
): Outcome<ShiftEstimate, 'too-few'> {
  const nonzero = differences.filter((d) => d !== 0);
  const n = nonzero.length;
  if (differences.length < 2 || n === 0) return refusal('too-few');
  const { ranks, tieSum } = midRanks(nonzero.map(Math.abs));
  const statistic = ranks.reduce((sum, rank, k) => sum + (nonzero[k]! > 0 ? rank : 0), 0);
  if (tieSum > 0 || n < differences.length || n > EXACT_LIMIT)
    return success(signedRankByNormal(nonzero, statistic, confidenceLevel));
  const walsh: number[] = [];
  for (let i = 0; i < n; i++) for (let j = i; j < n; j++) walsh.push((nonzero[i]! + nonzero[j]!) / 2);
  walsh.sort((x, y) => x - y);
  const { pValue, critical } = exactInference(signedRankCounts(n), statistic, confidenceLevel);
  return success({
    estimate: median(walsh)!,
    lower: walsh[critical - 1]!,
    upper: walsh[walsh.length - critical]!,
    pValue,
    statistic,
    exact: true,
  });
}

function signedRankByNormal(x: readonly number[], statistic: number, confidenceLevel: number): ShiftEstimate {
  const [least, most] = [Math.min(...x), Math.max(...x)];
  const tail = normalQuantile(1 - (1 - confidenceLevel) / 2);
  const pValue = Math.min(1, 2 * normalCdf(-Math.abs(signedRankZ(x, 0, true))));
  const estimate = crossing(x, 0, least, most, false);
  const lower = crossing(x, tail, least, most, true);
  const upper = crossing(x, -tail, least, most, true);
  return { estimate, ...(lower < upper && { lower, upper }), pValue, statistic, exact: false };
}

/** Standardized signed-rank statistic of the differences less a shift; it falls in steps as the shift grows. */
function signedRankZ(x: readonly number[], shift: number, isCorrected: boolean): number {
  const shifted = x.map((value) => value - shift).filter((value) => value !== 0);
  const n = shifted.length;
  if (n === 0) return 0;
  const { ranks, tieSum } = midRanks(shifted.map(Math.abs));
  const centred = ranks.reduce((sum, rank, k) => sum + (shifted[k]! > 0 ? rank : 0), 0) - (n * (n + 1)) / 4;
  const variance = (n * (n + 1) * (2 * n + 1)) / 24 - tieSum / 48;
  if (!(variance > 0)) return 0;
  return (centred - (isCorrected ? Math.sign(centred) * 0.5 : 0)) / Math.sqrt(variance);
}

/** The shift at which the statistic falls through z. */
function crossing(x: readonly number[], z: number, least: number, most: number, isCorrected: boolean): number {
  let [above, below] = [least, most];
  if (signedRankZ(x, above, isCorrected) <= z) return above;
  if (signedRankZ(x, below, isCorrected) >= z) return below;
  for (let step = 0; step < 60; step++) {
    const middle = (above + below) / 2;
    if (signedRankZ(x, middle, isCorrected) > z) above = middle;
    else below = middle;
  }
  return (above + below) / 2;
}
