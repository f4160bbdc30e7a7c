import { requireSameLength } from '../errors/index.js';

/**
 * Smoothed values and slopes of y over x by local linear regression with a window of fixed width in x (tricube-free:
 * all points in the window weigh the same, so that the slope's standard error is the textbook one).
 *
 * Shapes: x increasing (equal values allowed), equal lengths, all finite; `width` in the unit of x.
 * Output: `level` in the unit of y, `slope` and `slopeStandardError` in units of y per x (NaN-free; a window without
 *         width gets slope 0 and an infinite standard error).
 */
export function fitLocalLines(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  width: number,
): { level: Float64Array; slope: Float64Array; slopeStandardError: Float64Array } {
  requireSameLength({ x, y });
  const n = x.length;
  const level = new Float64Array(n);
  const slope = new Float64Array(n);
  const slopeStandardError = new Float64Array(n).fill(Infinity);
  let from = 0;
  let to = 0;
  // Running sums about moving origins lose digits over long rides; windows are short, so each is summed afresh.
  for (let k = 0; k < n; k++) {
    const centre = x[k]!;
    while (x[from]! < centre - width / 2) from++;
    while (to < n && x[to]! <= centre + width / 2) to++;
    // At a standstill a window can hold thousands of samples: a stride keeps the work bounded.
    const stride = Math.max(1, Math.floor((to - from) / 200));
    let count = 0;
    let sumX = 0;
    let sumY = 0;
    for (let j = from; j < to; j += stride) {
      count++;
      sumX += x[j]! - centre;
      sumY += y[j]!;
    }
    const meanX = sumX / count;
    const meanY = sumY / count;
    let sxx = 0;
    let sxy = 0;
    let syy = 0;
    for (let j = from; j < to; j += stride) {
      const dx = x[j]! - centre - meanX;
      const dy = y[j]! - meanY;
      sxx += dx * dx;
      sxy += dx * dy;
      syy += dy * dy;
    }
    if (sxx > 1e-12 * width * width) {
      slope[k] = sxy / sxx;
      level[k] = meanY - slope[k]! * meanX;
      if (count > 2) slopeStandardError[k] = Math.sqrt(Math.max(0, syy - (sxy * sxy) / sxx) / (count - 2) / sxx);
    } else level[k] = meanY;
  }
  return { level, slope, slopeStandardError };
}
