/**
 * Heights of labels, px down from the top of a plot, so that none covers another: each as near its line as `gap` allows,
 * in the order of the lines, all within the plot.
 */
export function spreadLabels(lines: readonly number[], gap: number, height: number): number[] {
  const order = lines.map((_, k) => k).sort((a, b) => lines[a]! - lines[b]!);
  const placed = lines.map((at) => at);
  let above = -Infinity;
  for (const k of order) {
    placed[k] = Math.max(lines[k]!, above + gap);
    above = placed[k]!;
  }
  let below = height + gap;
  for (const k of order.toReversed()) {
    placed[k] = Math.min(placed[k]!, below - gap);
    below = placed[k]!;
  }
  return placed;
}
