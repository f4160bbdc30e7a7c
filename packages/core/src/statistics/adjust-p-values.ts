/** Holm's step-down adjustment. Source: Holm (1979), Scand. J. Stat. 6(2), 65–70. */
export function adjustHolm(pValues: readonly number[]): number[] {
  const order = pValues.map((_, k) => k).sort((i, j) => pValues[i]! - pValues[j]!);
  const adjusted = new Array<number>(pValues.length).fill(1);
  let largest = 0;
  order.forEach((index, rank) => {
    largest = Math.max(largest, Math.min(1, pValues[index]! * (pValues.length - rank)));
    adjusted[index] = largest;
  });
  return adjusted;
}

/** Benjamini–Hochberg step-up adjustment. Source: Benjamini & Hochberg (1995), JRSS B 57(1), 289–300. */
export function adjustBenjaminiHochberg(pValues: readonly number[]): number[] {
  const order = pValues.map((_, k) => k).sort((i, j) => pValues[j]! - pValues[i]!);
  const adjusted = new Array<number>(pValues.length).fill(1);
  let smallest = 1;
  order.forEach((index, fromLargest) => {
    const rank = pValues.length - fromLargest;
    smallest = Math.min(smallest, (pValues[index]! * pValues.length) / rank);
    adjusted[index] = smallest;
  });
  return adjusted;
}
