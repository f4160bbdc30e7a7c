/** Samples per bin of each level, finest first: each level is 16 times coarser than the one before. */
export const PYRAMID_BINS = [64, 1024, 16_384] as const;
/** Least, greatest and mean of a bin. */
export const VALUES_PER_BIN = 3;

/** Levels one after the other; NaN where a bin holds no sample. */
export function buildPyramid(values: ArrayLike<number>): Float32Array {
  const counts = PYRAMID_BINS.map((bin) => Math.ceil(values.length / bin));
  const pyramid = new Float32Array(VALUES_PER_BIN * counts.reduce((sum, n) => sum + n, 0));
  let offset = 0;
  PYRAMID_BINS.forEach((bin, level) => {
    for (let k = 0; k < counts[level]!; k++, offset += VALUES_PER_BIN)
      pyramid.set(summarizeBin(values, k * bin, Math.min(values.length, (k + 1) * bin)), offset);
  });
  return pyramid;
}

/** Where a level lies within the pyramid of `count` samples, counted in bins. */
export function pyramidLevelOffset(count: number, level: number): number {
  return PYRAMID_BINS.slice(0, level).reduce((sum, bin) => sum + Math.ceil(count / bin), 0);
}

/** The coarsest level that still has at least `bins` bins in a window of `count` samples; undefined: use the samples. */
export function pyramidLevelFor(count: number, bins: number): number | undefined {
  for (let level = PYRAMID_BINS.length - 1; level >= 0; level--) if (count / PYRAMID_BINS[level]! >= bins) return level;
  return undefined;
}

function summarizeBin(values: ArrayLike<number>, from: number, to: number): readonly [number, number, number] {
  let least = Infinity;
  let greatest = -Infinity;
  let sum = 0;
  let count = 0;
  for (let k = from; k < to; k++) {
    const value = values[k]!;
    if (Number.isNaN(value)) continue;
    if (value < least) least = value;
    if (value > greatest) greatest = value;
    sum += value;
    count++;
  }
  return count === 0 ? [NaN, NaN, NaN] : [least, greatest, sum / count];
}
