import { MAD_TO_SD, median } from '../numeric/index.js';

export interface HampelOptions {
  /** Samples to each side; 3 makes the usual window of 7. */
  readonly halfWindow: number;
  /** Multiple of the scaled median absolute deviation beyond which a sample stands out. */
  readonly threshold: number;
  /** Deviations up to this are never a spike: the resolution and noise of the sensor. */
  readonly floor: number;
}

/**
 * Indices of samples that stand out from their neighbours. Missing samples (NaN) are skipped over, not used.
 * Source: Hampel (1974), J. Am. Stat. Assoc. 69(346), 383–393; Pearson (2002), IEEE Trans. Control Syst. Technol. 10(1).
 */
export function findHampelOutliers(values: ArrayLike<number>, options: HampelOptions): number[] {
  const { halfWindow, threshold, floor } = options;
  const finite: number[] = [];
  for (let k = 0; k < values.length; k++) if (!Number.isNaN(values[k]!)) finite.push(k);
  const outliers: number[] = [];
  const width = 2 * halfWindow + 1;
  if (finite.length < width) return outliers;
  const window = new Float64Array(width);
  for (let k = 0; k < finite.length; k++) {
    const value = values[finite[k]!]!;
    // A sample close to both neighbours cannot stand out: this skips the sorting for almost all of a log.
    const before = values[finite[Math.max(0, k - 1)]!]!;
    const after = values[finite[Math.min(finite.length - 1, k + 1)]!]!;
    if (Math.abs(value - before) <= floor && Math.abs(value - after) <= floor) continue;
    const start = Math.min(Math.max(0, k - halfWindow), finite.length - width);
    for (let j = 0; j < width; j++) window[j] = values[finite[start + j]!]!;
    const centre = median(window)!;
    const deviation = Math.abs(value - centre);
    if (deviation <= floor) continue;
    for (let j = 0; j < width; j++) window[j] = Math.abs(window[j]! - centre);
    if (deviation > threshold * MAD_TO_SD * median(window)!) outliers.push(finite[k]!);
  }
  return outliers;
}
