/** Sum of the products of two vectors of one length, in four sums side by side: each addition waits for the one before it. */
export function dot(a: Float64Array, b: Float64Array): number {
  let [s0, s1, s2, s3, k] = [0, 0, 0, 0, 0];
  for (; k + 3 < a.length; k += 4) {
    s0 += a[k]! * b[k]!;
    s1 += a[k + 1]! * b[k + 1]!;
    s2 += a[k + 2]! * b[k + 2]!;
    s3 += a[k + 3]! * b[k + 3]!;
  }
  for (; k < a.length; k++) s0 += a[k]! * b[k]!;
  return s0 + s1 + (s2 + s3);
}
