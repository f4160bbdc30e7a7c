import { refusal, requireInOpenInterval, success, type Outcome } from '../errors/index.js';
import type { Random } from '../numeric/index.js';
import { sampleQuantile, type Interval } from './describe-sample.js';
import { normalCdf, normalQuantile } from './distributions.js';
import { summarizeSample } from './sample-summary.js';

/**
 * BCa bootstrap interval of mean(a) − mean(b), resampled within each sample.
 * Fails:  `too-few` (< 3 values in a sample), `no-spread`.
 * Source: Efron (1987), J. Am. Stat. Assoc. 82(397), 171–185.
 */
export function bootstrapDifference(
  a: readonly number[],
  b: readonly number[],
  options: { resamples: number; confidenceLevel: number; random: Random },
): Outcome<Interval, 'no-spread' | 'too-few'> {
  requireInOpenInterval({ confidenceLevel: options.confidenceLevel }, 0, 1);
  if (a.length < 3 || b.length < 3) return refusal('too-few');
  const estimate = summarizeSample(a).mean - summarizeSample(b).mean;
  const resampleMean = (values: Float64Array): number => {
    let sum = 0;
    for (let k = 0; k < values.length; k++) sum += values[Math.floor(options.random() * values.length)]!;
    return sum / values.length;
  };
  const [ofA, ofB] = [Float64Array.from(a), Float64Array.from(b)];
  const replicates = new Float64Array(options.resamples);
  for (let k = 0; k < replicates.length; k++) replicates[k] = resampleMean(ofA) - resampleMean(ofB);
  const below = replicates.reduce((count, value) => count + (value < estimate ? 1 : value === estimate ? 0.5 : 0), 0);
  if (below === 0 || below === options.resamples) return refusal('no-spread');
  const bias = normalQuantile(below / options.resamples);
  const acceleration = jackknifeAcceleration(a, b);
  const adjusted = (p: number): number => {
    const z = bias + normalQuantile(p);
    return normalCdf(bias + z / (1 - acceleration * z));
  };
  const tail = (1 - options.confidenceLevel) / 2;
  return success({
    lower: sampleQuantile(replicates, adjusted(tail)),
    upper: sampleQuantile(replicates, adjusted(1 - tail)),
  });
}

/** Two-sample acceleration from influence values of each mean. Source: Davison & Hinkley (1997), sec. 5.3.2. */
function jackknifeAcceleration(a: readonly number[], b: readonly number[]): number {
  const influence = (values: readonly number[], sign: number): number[] => {
    const { mean } = summarizeSample(values);
    return values.map((value) => (sign * (value - mean)) / values.length);
  };
  const terms = [...influence(a, 1), ...influence(b, -1)];
  const cubes = terms.reduce((sum, value) => sum + value ** 3, 0);
  const squares = terms.reduce((sum, value) => sum + value ** 2, 0);
  return squares === 0 ? 0 : cubes / (6 * squares ** 1.5);
}
