/** Index of the first time at or after `t`, by bisection. */
export function firstAtOrAfter(timeS: ArrayLike<number>, t: number): number {
  let low = 0;
  let high = timeS.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (timeS[middle]! < t) low = middle + 1;
    else high = middle;
  }
  return low;
}
