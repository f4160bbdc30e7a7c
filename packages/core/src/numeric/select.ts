/** Up to so many numbers putting each in its place is faster than looking for one. */
const FEW = 24;
const scratch = new Float64Array(FEW);

/**
 * The numbers that would stand at `rank` and, where `withNext`, behind it if all were sorted; not a number sorts last. The input stays
 * as it is. In time in proportion to the count. Source: Hoare (1961), Commun. ACM 4(7), 321–322 (Find), with the middle of three as pivot.
 */
export function select(values: ArrayLike<number>, rank: number, withNext = false): readonly [number, number] {
  const { length } = values;
  if (length <= FEW) {
    for (let k = 0; k < length; k++) {
      const value = values[k]!;
      let at = k;
      // Not a number is greater than all.
      while (at > 0 && (scratch[at - 1]! > value || scratch[at - 1]! !== scratch[at - 1]!)) {
        scratch[at] = scratch[at - 1]!;
        at--;
      }
      scratch[at] = value;
    }
    return [scratch[rank]!, withNext && rank + 1 < length ? scratch[rank + 1]! : NaN];
  }
  const own = new Float64Array(length);
  let count = 0;
  for (let k = 0; k < length; k++) {
    const value = values[k]!;
    if (value === value) own[count++] = value;
  }
  if (rank >= count) return [NaN, NaN];
  partition(own, rank, count - 1);
  if (!withNext || rank + 1 >= count) return [own[rank]!, NaN];
  let next = own[rank + 1]!;
  for (let k = rank + 2; k < count; k++) if (own[k]! < next) next = own[k]!;
  return [own[rank]!, next];
}

/**
 * The number below which that share of all lies, as the one that sorting would put there: between nought (the least) and one (the
 * greatest). What is not a number is left out; undefined where nothing else is there.
 */
export function atShare(values: ArrayLike<number>, share: number): number | undefined {
  let missing = 0;
  for (let k = 0; k < values.length; k++) if (values[k]! !== values[k]!) missing++;
  const count = values.length - missing;
  // Not a number stands behind all others.
  return count === 0 ? undefined : select(values, Math.floor(share * (count - 1)))[0];
}

/** Reorders so that no number before `rank` is greater than that there, and none behind it smaller. */
function partition(values: Float64Array, rank: number, last: number): void {
  let [left, right] = [0, last];
  while (left < right) {
    const pivot = middleOf(values[left]!, values[(left + right) >> 1]!, values[right]!);
    let [i, j] = [left, right];
    while (i <= j) {
      while (values[i]! < pivot) i++;
      while (values[j]! > pivot) j--;
      if (i > j) break;
      const value = values[i]!;
      values[i++] = values[j]!;
      values[j--] = value;
    }
    if (rank <= j) right = j;
    else if (rank >= i) left = i;
    else return;
  }
}

function middleOf(a: number, b: number, c: number): number {
  if (a < b) return b < c ? b : a < c ? c : a;
  return a < c ? a : b < c ? c : b;
}
