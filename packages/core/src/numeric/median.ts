import { select } from './select.js';

/** Median of finite values; the mean of the middle two for an even count. Empty input gives `undefined`. */
export function median(values: ArrayLike<number>): number | undefined {
  if (values.length === 0) return undefined;
  const middle = values.length >> 1;
  if (values.length % 2 === 1) return select(values, middle)[0];
  const [low, high] = select(values, middle - 1, true);
  return (low + high) / 2;
}

/** 1.4826: the median absolute deviation of a normal distribution times this is its standard deviation. */
export const MAD_TO_SD = 1.4826;

/** Median absolute deviation times 1.4826, an outlier-proof standard deviation. */
export function scaledMedianAbsoluteDeviation(values: ArrayLike<number>): number | undefined {
  const centre = median(values);
  if (centre === undefined) return undefined;
  // A plain loop: a mapped `Float64Array.from` takes ten times as long.
  const off = new Float64Array(values.length);
  for (let k = 0; k < off.length; k++) off[k] = Math.abs(values[k]! - centre);
  return MAD_TO_SD * median(off)!;
}
