/**
 * Factor by which neighbouring samples that resemble each other widen a standard error: √((1 + ρ) / (1 − ρ)).
 * `residuals` in the order of time; ρ is their lag-1 autocorrelation, held to 0 … 0.98.
 */
export function correlationInflation(residuals: ArrayLike<number>): number {
  let squares = 0;
  let products = 0;
  for (let k = 0; k < residuals.length; k++) {
    squares += residuals[k]! ** 2;
    if (k > 0) products += residuals[k]! * residuals[k - 1]!;
  }
  const rho = squares > 0 ? Math.min(0.98, Math.max(0, products / squares)) : 0;
  return Math.sqrt((1 + rho) / (1 - rho));
}

/**
 * Mean of a span with the standard error of its own blocks: what wanders slowly counts as scatter, not as samples.
 * Undefined with fewer than two samples.
 */
export function meanOfSpan(
  values: ArrayLike<number>,
): { mean: number; standardError: number; count: number } | undefined {
  const kept: number[] = [];
  for (let k = 0; k < values.length; k++) if (!Number.isNaN(values[k]!)) kept.push(values[k]!);
  if (kept.length < 2) return undefined;
  const mean = kept.reduce((sum, value) => sum + value, 0) / kept.length;
  const residuals = kept.map((value) => value - mean);
  const variance = residuals.reduce((sum, value) => sum + value * value, 0) / (kept.length - 1);
  return {
    mean,
    standardError: Math.sqrt(variance / kept.length) * correlationInflation(residuals),
    count: kept.length,
  };
}
