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
  // What is there, close together, and where it stood.
  const finite = new Float64Array(values.length);
  const places = new Int32Array(values.length);
  let count = 0;
  for (let k = 0; k < values.length; k++) {
    const value = values[k]!;
    if (value !== value) continue;
    places[count] = k;
    finite[count++] = value;
  }
  const outliers: number[] = [];
  const width = 2 * halfWindow + 1;
  if (count < width) return outliers;
  const window = new Float64Array(width);
  for (let k = 0; k < count; k++) {
    const value = finite[k]!;
    // A sample close to both neighbours cannot stand out: this skips the sorting for almost all of a log.
    const before = finite[k === 0 ? 0 : k - 1]!;
    const after = finite[k === count - 1 ? k : k + 1]!;
    if (Math.abs(value - before) <= floor && Math.abs(value - after) <= floor) continue;
    const start = Math.min(Math.max(0, k - halfWindow), count - width);
    for (let j = 0; j < width; j++) window[j] = finite[start + j]!;
    const centre = median(window)!;
    const deviation = Math.abs(value - centre);
    if (deviation <= floor) continue;
    for (let j = 0; j < width; j++) window[j] = Math.abs(window[j]! - centre);
    if (deviation > threshold * MAD_TO_SD * median(window)!) outliers.push(places[k]!);
  }
  return outliers;
}
