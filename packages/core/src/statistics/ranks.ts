/** Ranks from 1, ties share their mean rank; `tieSum` is Σ(t³ − t) over groups of t tied values. */
export function midRanks(values: readonly number[]): { ranks: number[]; tieSum: number } {
  const order = values.map((_, k) => k).sort((i, j) => values[i]! - values[j]!);
  const ranks = new Array<number>(values.length).fill(0);
  let tieSum = 0;
  for (let start = 0; start < order.length;) {
    let end = start;
    while (end + 1 < order.length && values[order[end + 1]!] === values[order[start]!]) end++;
    const size = end - start + 1;
    tieSum += size ** 3 - size;
    for (let k = start; k <= end; k++) ranks[order[k]!] = (start + end) / 2 + 1;
    start = end + 1;
  }
  return { ranks, tieSum };
}
