import { refusal, success, type Outcome } from '../errors/index.js';
import { logGamma } from '../numeric/index.js';
import type { SampleSummary } from './sample-summary.js';

/**
 * Hedges' g of mean(a) − mean(b): Cohen's d with the pooled standard deviation times the exact small-sample correction.
 * Source: Hedges (1981), J. Educ. Stat. 6(2), 107–128: J(m) = Γ(m/2) / (√(m/2) Γ((m−1)/2)), m = nₐ + n_b − 2.
 */
export function hedgesG(
  a: SampleSummary,
  b: SampleSummary,
): Outcome<{ cohenD: number; correction: number; g: number }, 'no-spread' | 'too-few'> {
  const m = a.count + b.count - 2;
  if (m < 2) return refusal('too-few');
  const pooledVariance = ((a.count - 1) * a.variance + (b.count - 1) * b.variance) / m;
  if (pooledVariance === 0) return refusal('no-spread');
  const cohenD = (a.mean - b.mean) / Math.sqrt(pooledVariance);
  const correction = Math.exp(logGamma(m / 2) - logGamma((m - 1) / 2) - Math.log(m / 2) / 2);
  return success({ cohenD, correction, g: cohenD * correction });
}
