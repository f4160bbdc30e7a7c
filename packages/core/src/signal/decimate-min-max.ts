export interface DecimatedColumn {
  /** Indices of the kept samples, increasing: the least and the greatest of each bin. */
  readonly indices: Int32Array;
}

/**
 * The samples to draw so that no peak is lost: least and greatest of each of `bins` equal shares of [from, to).
 * At most 2 · bins indices; missing samples (NaN) are passed over.
 */
export function decimateMinMax(values: ArrayLike<number>, from: number, to: number, bins: number): DecimatedColumn {
  const count = to - from;
  if (count <= 2 * bins) return { indices: Int32Array.from({ length: Math.max(0, count) }, (_, k) => from + k) };
  const kept = new Int32Array(2 * bins);
  let used = 0;
  for (let bin = 0; bin < bins; bin++) {
    const start = from + Math.floor((bin * count) / bins);
    const end = from + Math.floor(((bin + 1) * count) / bins);
    let least = -1;
    let greatest = -1;
    for (let k = start; k < end; k++) {
      const value = values[k]!;
      if (Number.isNaN(value)) continue;
      if (least < 0 || value < values[least]!) least = k;
      if (greatest < 0 || value > values[greatest]!) greatest = k;
    }
    if (least < 0) continue;
    kept[used++] = Math.min(least, greatest);
    if (least !== greatest) kept[used++] = Math.max(least, greatest);
  }
  return { indices: kept.slice(0, used) };
}
