/** Mean over a window of `widthS` about each sample: times increasing, equally long; at the ends over what there is. */
export function meanWithin(timeS: Float64Array, values: Float64Array, widthS: number): Float64Array {
  let [from, to, total] = [0, 0, 0];
  return values.map((_, k) => {
    while (to < values.length && timeS[to]! <= timeS[k]! + widthS / 2) total += values[to++]!;
    while (timeS[from]! < timeS[k]! - widthS / 2) total -= values[from++]!;
    return total / (to - from);
  });
}
