export interface BinnedExtremes {
  /** Position of each bin's middle value, increasing. */
  readonly positions: Int32Array;
  readonly low: Float64Array;
  readonly high: Float64Array;
}

/**
 * Least and greatest of each of at most `bins` equal shares, so that a line of a million samples is drawn without losing a peak.
 * `low` and `high` may be the same samples, or the extremes of a pyramid's level. Bins without a sample are NaN.
 */
export function binExtremes(low: ArrayLike<number>, high: ArrayLike<number>, bins: number): BinnedExtremes {
  const count = Math.min(low.length, bins);
  const result = { positions: new Int32Array(count), low: new Float64Array(count), high: new Float64Array(count) };
  for (let bin = 0; bin < count; bin++) {
    const start = Math.floor((bin * low.length) / count);
    const end = Math.floor(((bin + 1) * low.length) / count);
    let least = Infinity;
    let greatest = -Infinity;
    for (let k = start; k < end; k++) {
      if (low[k]! < least) least = low[k]!;
      if (high[k]! > greatest) greatest = high[k]!;
    }
    result.positions[bin] = start + ((end - start - 1) >> 1);
    result.low[bin] = least === Infinity ? NaN : least;
    result.high[bin] = greatest === -Infinity ? NaN : greatest;
  }
  return result;
}
