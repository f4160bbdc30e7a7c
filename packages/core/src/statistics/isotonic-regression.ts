/**
 * Isotonic least-squares regression: the never-falling values nearest to `values`, by pooling adjacent violators.
 *
 * Shapes: any length; weights are 1. Units: those of `values`.
 * Source: Barlow, Bartholomew, Bremner & Brunk (1972), Statistical Inference under Order Restrictions, ch. 1.
 */
export function isotonicRegression(values: readonly number[]): number[] {
  const blocks: { sum: number; count: number }[] = [];
  for (const value of values) {
    let block = { sum: value, count: 1 };
    for (;;) {
      const before = blocks.at(-1);
      if (!before || before.sum / before.count <= block.sum / block.count) break;
      blocks.pop();
      block = { sum: block.sum + before.sum, count: block.count + before.count };
    }
    blocks.push(block);
  }
  return blocks.flatMap(({ sum, count }) => Array.from({ length: count }, () => sum / count));
}
