/** Blocks of which the means are compared: so many that their scatter is known, so few that each is longer than what hangs together. */
const BLOCK_COUNTS = [12, 20, 40] as const;
/** The largest of the ratios counts less this much: by chance alone one of them is large. */
const LARGEST_SHARE = 0.85;
const LEAST_PER_BLOCK = 3;

/**
 * Factor by which samples that resemble their neighbours widen a standard error: the square root of the integrated autocorrelation,
 * ∑ρ over all lags. The same residuals sampled more often give a larger factor and the same standard error of their mean: what hangs
 * together hangs together in seconds, not in samples.
 *
 * Method: the larger of (1 + ρ)/(1 − ρ) for the lag-1 autocorrelation ρ, held to 0 … 0.98, and of the variance of means of blocks against
 * what independent samples would have (method of batch means; Flegal & Jones 2010). `residuals` in the order of time.
 */
export function correlationInflation(residuals: ArrayLike<number>): number {
  const n = residuals.length;
  let squares = 0;
  let products = 0;
  for (let k = 0; k < n; k++) {
    const residual = residuals[k]!;
    squares += residual * residual;
    if (k > 0) products += residual * residuals[k - 1]!;
  }
  if (!(squares > 0)) return 1;
  const rho = Math.min(0.98, Math.max(0, products / squares));
  const ratios = BLOCK_COUNTS.flatMap((count) => {
    const size = Math.floor(n / count);
    return size < LEAST_PER_BLOCK ? [] : [blockRatio(residuals, count, size, squares / n)];
  });
  const byBlocks =
    ratios.length > 0
      ? Math.max(ratios.reduce((sum, ratio) => sum + ratio, 0) / ratios.length, LARGEST_SHARE * Math.max(...ratios))
      : 1;
  return Math.sqrt(Math.max(1, (1 + rho) / (1 - rho), byBlocks));
}

/** Variance of the means of blocks, times their size, against that of the samples: 1 where they are independent. */
function blockRatio(residuals: ArrayLike<number>, count: number, size: number, variance: number): number {
  let [sum, sumOfSquares] = [0, 0];
  for (let block = 0; block < count; block++) {
    let mean = 0;
    for (let k = 0; k < size; k++) mean += residuals[block * size + k]!;
    mean /= size;
    sum += mean;
    sumOfSquares += mean * mean;
  }
  const ofMeans = Math.max(0, sumOfSquares - (sum * sum) / count) / (count - 1);
  return (size * ofMeans) / variance;
}

/**
 * Mean of a span with the standard error of its own blocks: what wanders slowly counts as scatter, not as samples.
 * Undefined with fewer than two samples.
 */
export function meanOfSpan(
  values: ArrayLike<number>,
): { mean: number; standardError: number; count: number } | undefined {
  const residuals = new Float64Array(values.length);
  let count = 0;
  let sum = 0;
  for (let k = 0; k < values.length; k++) {
    const value = values[k]!;
    if (Number.isNaN(value)) continue;
    residuals[count++] = value;
    sum += value;
  }
  if (count < 2) return undefined;
  const mean = sum / count;
  let squares = 0;
  for (let k = 0; k < count; k++) {
    residuals[k]! -= mean;
    squares += residuals[k]! * residuals[k]!;
  }
  return {
    mean,
    standardError: Math.sqrt(squares / (count - 1) / count) * correlationInflation(residuals.subarray(0, count)),
    count,
  };
}

/** Straight line through points, with the standard error of its slope widened for residuals that hang together; undefined without spread in x. */
export function fitLine(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
): { readonly slope: number; readonly error: number } | undefined {
  const n = x.length;
  if (n < 3) return undefined;
  let [meanX, meanY] = [0, 0];
  for (let k = 0; k < n; k++) {
    meanX += x[k]! / n;
    meanY += y[k]! / n;
  }
  let [sxx, sxy] = [0, 0];
  for (let k = 0; k < n; k++) {
    sxx += (x[k]! - meanX) ** 2;
    sxy += (x[k]! - meanX) * (y[k]! - meanY);
  }
  if (!(sxx > 0)) return undefined;
  const slope = sxy / sxx;
  const residuals = Float64Array.from({ length: n }, (_, k) => y[k]! - meanY - slope * (x[k]! - meanX));
  const variance = residuals.reduce((sum, r) => sum + r * r, 0) / Math.max(1, n - 2);
  return { slope, error: Math.sqrt(variance / sxx) * correlationInflation(residuals) };
}
