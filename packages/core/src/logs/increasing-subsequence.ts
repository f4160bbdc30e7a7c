/**
 * Indices of a longest strictly increasing run of picks; NaN never belongs to it.
 * Keeps as many samples as any cleaning of a disordered clock can: one wild time does not cost all that follow it.
 */
export function longestIncreasing(values: ArrayLike<number>): Int32Array {
  let increasing = true;
  for (let k = 0; k < values.length && increasing; k++)
    increasing = !Number.isNaN(values[k]!) && (k === 0 || values[k]! > values[k - 1]!);
  if (increasing) {
    const all = new Int32Array(values.length);
    for (let k = 0; k < all.length; k++) all[k] = k;
    return all;
  }

  const tails: number[] = [];
  const previous = new Int32Array(values.length).fill(-1);
  for (let k = 0; k < values.length; k++) {
    const value = values[k]!;
    if (Number.isNaN(value)) continue;
    let low = 0;
    let high = tails.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (values[tails[middle]!]! < value) low = middle + 1;
      else high = middle;
    }
    if (low > 0) previous[k] = tails[low - 1]!;
    // An equal time keeps the sample that came first: a clock that stands still repeats old news.
    if (low === tails.length || values[tails[low]!]! > value) tails[low] = k;
  }
  const kept = new Int32Array(tails.length);
  for (let k = tails.length - 1, index = tails.at(-1) ?? -1; k >= 0; k--, index = previous[index]!) kept[k] = index;
  return kept;
}
