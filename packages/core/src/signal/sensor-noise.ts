import { MAD_TO_SD, median } from '../numeric/index.js';

/** √6: the second difference of white noise has this many times its standard deviation. */
const SECOND_DIFFERENCE_GAIN = Math.sqrt(6);

/** Standard deviation of the noise on a smooth signal, from the median size of its second differences; 0 for < 3 samples. */
export function estimateNoise(values: ArrayLike<number>): number {
  const sizes: number[] = [];
  // Some thousands of differences tell as much as all of a long log.
  const stride = Math.max(1, Math.floor(values.length / 20_000));
  for (let k = 1; k + 1 < values.length; k += stride) {
    const second = values[k - 1]! - 2 * values[k]! + values[k + 1]!;
    if (!Number.isNaN(second)) sizes.push(Math.abs(second));
  }
  return sizes.length < 3 ? 0 : (MAD_TO_SD * median(sizes)!) / SECOND_DIFFERENCE_GAIN;
}

/** The smallest step between different values that occurs: the resolution the sensor was logged with. */
export function estimateResolution(values: ArrayLike<number>): number {
  let smallest = Infinity;
  let differing = 0;
  for (let k = 1; k < values.length && differing < 20_000; k++) {
    const step = Math.abs(values[k]! - values[k - 1]!);
    if (!(step > 0)) continue;
    differing++;
    // Rounding in the conversion of units makes steps of 1e-16 that mean nothing.
    if (step < smallest && step > 1e-9 * Math.abs(values[k]!)) smallest = step;
  }
  return Number.isFinite(smallest) ? smallest : 0;
}
