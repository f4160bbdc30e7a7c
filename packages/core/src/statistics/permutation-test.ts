import { refusal, success, type Outcome } from '../errors/index.js';
import { logGamma, type Random } from '../numeric/index.js';
import { summarizeSample } from './sample-summary.js';

/** Up to this many arrangements all are visited; beyond it they are sampled. */
const EXACT_ARRANGEMENTS = 200_000;

export interface PermutationTest {
  readonly pValue: number;
  readonly exact: boolean;
  readonly arrangements: number;
}

/**
 * Two-sided permutation test of the difference of means.
 * Method: all arrangements up to 200 000, else `draws` seeded random ones with the (hits + 1)/(draws + 1) estimate.
 * Source: Phipson & Smyth (2010), Stat. Appl. Genet. Mol. Biol. 9(1), art. 39 for the Monte Carlo p-value.
 */
export function permutationTest(
  a: readonly number[],
  b: readonly number[],
  random: Random,
  draws = 20_000,
): Outcome<PermutationTest, 'too-few'> {
  if (a.length < 1 || b.length < 1 || a.length + b.length < 3) return refusal('too-few');
  const pooled = [...a, ...b];
  const total = pooled.reduce((sum, value) => sum + value, 0);
  const grandMean = total / pooled.length;
  const observed = Math.abs(summarizeSample(a).mean - grandMean) * a.length;
  const limit = observed - 1e-10 * Math.max(1e-300, observed, Math.abs(grandMean));
  const arrangements = Math.round(
    Math.exp(logGamma(pooled.length + 1) - logGamma(a.length + 1) - logGamma(b.length + 1)),
  );
  if (arrangements <= EXACT_ARRANGEMENTS) {
    let hits = 0;
    let visited = 0;
    const centred = pooled.map((value) => value - grandMean);
    const visit = (start: number, left: number, sum: number): void => {
      if (left === 0) {
        visited++;
        if (Math.abs(sum) >= limit) hits++;
        return;
      }
      for (let k = start; k <= centred.length - left; k++) visit(k + 1, left - 1, sum + centred[k]!);
    };
    visit(0, a.length, 0);
    return success({ pValue: hits / visited, exact: true, arrangements: visited });
  }
  const shuffled = Float64Array.from(pooled, (value) => value - grandMean);
  let hits = 0;
  for (let draw = 0; draw < draws; draw++) {
    let sum = 0;
    for (let k = 0; k < a.length; k++) {
      const swap = k + Math.floor(random() * (shuffled.length - k));
      const picked = shuffled[swap]!;
      shuffled[swap] = shuffled[k]!;
      shuffled[k] = picked;
      sum += picked;
    }
    if (Math.abs(sum) >= limit) hits++;
  }
  return success({ pValue: (hits + 1) / (draws + 1), exact: false, arrangements: draws });
}
