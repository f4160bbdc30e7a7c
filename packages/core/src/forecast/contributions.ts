import { solveSymmetric } from '../numeric/index.js';
import { GROUP_LABELS, type Group } from './calibrate.js';

/** Shares of a variance by what it comes from, largest first. */
export type Contributions = readonly { readonly source: string; readonly share: number }[];

/** Shares of a figure's variance by group: Σ β·cov(draw, figure) of the linear regression on the draws; what it leaves counts as the day's. */
export function contributionsOf(
  draws: readonly (readonly number[])[],
  values: readonly number[],
  groups: readonly Group[],
  added: { readonly instrument: number; readonly day: number },
): Contributions {
  const n = values.length;
  const p = groups.length;
  const meanOf = (xs: readonly number[]): number => xs.reduce((sum, x) => sum + x, 0) / n;
  const yMean = meanOf(values);
  const means = groups.map((_, j) => meanOf(draws.map((row) => row[j]!)));
  const normal = new Float64Array(p * p);
  const right = new Float64Array(p);
  let variance = 0;
  draws.forEach((row, i) => {
    const y = values[i]! - yMean;
    variance += (y * y) / n;
    for (let a = 0; a < p; a++) {
      const xa = row[a]! - means[a]!;
      right[a]! += (xa * y) / n;
      for (let b = 0; b <= a; b++) normal[a * p + b]! += (xa * (row[b]! - means[b]!)) / n;
    }
  });
  for (let a = 0; a < p; a++) {
    for (let b = 0; b < a; b++) normal[b * p + a] = normal[a * p + b]!;
    normal[a * p + a] = normal[a * p + a]! * 1.001 + 1e-18;
  }
  const beta = solveSymmetric(normal, right);
  const total = variance + added.instrument + added.day;
  if (!(total > 0)) return [];
  const shares = new Map<Group, number>([['instrument', added.instrument / total]]);
  let explained = 0;
  if (beta)
    groups.forEach((group, j) => {
      const part = Math.max(0, beta[j]! * right[j]!);
      explained += part;
      shares.set(group, (shares.get(group) ?? 0) + part / total);
    });
  const scale = explained > variance ? variance / explained : 1;
  shares.set('day', (added.day + Math.max(0, variance - explained)) / total);
  return [...shares]
    .map(([group, part]) => ({
      source: GROUP_LABELS[group],
      share: group === 'instrument' || group === 'day' ? part : part * scale,
    }))
    .filter(({ share }) => share > 0.005)
    .sort((a, b) => b.share - a.share);
}
