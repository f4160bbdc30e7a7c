const GOLDEN = (Math.sqrt(5) - 1) / 2;

/**
 * Largest value of a function with one peak between two points, and where it is.
 * Source: Kiefer (1953), Proc. Amer. Math. Soc. 4, 502–506.
 */
export function goldenSectionMaximum(
  of: (x: number) => number,
  lower: number,
  upper: number,
  tolerance = 1e-7,
): { readonly at: number; readonly value: number } {
  let [low, high] = [lower, upper];
  let [left, right] = [high - GOLDEN * (high - low), low + GOLDEN * (high - low)];
  let [atLeft, atRight] = [of(left), of(right)];
  while (high - low > tolerance) {
    if (atLeft < atRight) {
      [low, left, atLeft] = [left, right, atRight];
      right = low + GOLDEN * (high - low);
      atRight = of(right);
    } else {
      [high, right, atRight] = [right, left, atLeft];
      left = high - GOLDEN * (high - low);
      atLeft = of(left);
    }
  }
  return atLeft > atRight ? { at: left, value: atLeft } : { at: right, value: atRight };
}
