import { atShare, mean, scaledMedianAbsoluteDeviation } from '../../numeric/index.js';
import { fitLocalLines, presentSamples } from '../../signal/index.js';

/** Between two passes the bike is slower than this share of its top speed. */
const APART_SHARE = 0.5;
const WINDOW_S = 5;
const STEADY_MPS2 = 0.12;
const SLOPE_WINDOW_S = 6;
const MIN_PASS_S = 8;
/** Steady windows this near the best one are taken for the same speed; of a speed that wavers, all within so many of their standard deviations. */
const NEAR_SHARE = 0.01;
const NEAR_DEVIATIONS = 3;
/** Windows farther below the best than this were ridden at another speed. */
const SAME_SHARE = 0.05;

/** First and last sample of each pass: where the speed (m/s, NaN where missing) stays above half of its highest for 8 s or more. */
export function findPasses(timeS: Float64Array, speed: Float64Array): { from: number; to: number }[] {
  const top = atShare(speed, 0.98) ?? 0;
  if (!(top > 1)) return [];
  const passes: { from: number; to: number }[] = [];
  let from = -1;
  let last = -1;
  for (let k = 0; k < speed.length; k++) {
    if (Number.isNaN(speed[k]!)) continue;
    if (speed[k]! > APART_SHARE * top) {
      if (from < 0) from = k;
      last = k;
    } else if (from >= 0) {
      passes.push({ from, to: last });
      from = -1;
    }
  }
  if (from >= 0) passes.push({ from, to: last });
  return passes.filter((pass) => timeS[pass.to]! - timeS[pass.from]! >= MIN_PASS_S);
}

/**
 * First and last sample of the steady 5 s with the highest mean, and how far that lies above the mean of all that come
 * near it, m/s: the highest of many means of a speed that wavers lies above what the bike holds.
 */
export function steadiest(
  timeS: Float64Array,
  speed: Float64Array,
  from: number,
  to: number,
  isDriven: (k: number) => boolean = () => true,
): { first: number; last: number; choiceMps: number } | undefined {
  const { at: kept, x: times, y: speeds } = presentSamples(timeS, speed, from, to);
  const { slope } = fitLocalLines(times, speeds, SLOPE_WINDOW_S);
  const isEven = (j: number, limit: number): boolean => Math.abs(slope[j]!) < limit * STEADY_MPS2 && isDriven(kept[j]!);
  // How many samples up to each were uneven, so that a window is judged without going through it again.
  const unevenBefore = new Uint32Array(kept.length + 1);
  for (let j = 0; j < kept.length; j++) unevenBefore[j + 1] = unevenBefore[j]! + (isEven(j, 1.5) ? 0 : 1);
  /** Neither rising nor falling at any point of it, and driven throughout. */
  const isSteady = (start: number, end: number): boolean =>
    Math.abs(slope[(start + end) >> 1]!) < STEADY_MPS2 &&
    unevenBefore[Math.max(start + 1, end)] === unevenBefore[start + 1] &&
    isEven(start, 2) &&
    isEven(end, 2);
  let best: { first: number; last: number } | undefined;
  const means: number[] = [];
  let highest = -Infinity;
  let sum = 0;
  let start = 0;
  for (let end = 0; end < kept.length; end++) {
    sum += speeds[end]!;
    while (times[end]! - times[start]! > WINDOW_S + 1e-9) sum -= speeds[start++]!;
    const isFull = times[end]! - times[start]! >= 0.9 * WINDOW_S;
    if (!isFull || !isSteady(start, end)) continue;
    const windowMean = sum / (end - start + 1);
    means.push(windowMean);
    if (windowMean > highest) {
      highest = windowMean;
      best = { first: kept[start]!, last: kept[end]! };
    }
  }
  if (!best) return undefined;
  const wavering = scaledMedianAbsoluteDeviation(means.filter((one) => one >= (1 - SAME_SHARE) * highest)) ?? 0;
  const nearMps = Math.max(NEAR_SHARE * highest, NEAR_DEVIATIONS * wavering);
  const near = means.filter((one) => one >= highest - nearMps);
  return { ...best, choiceMps: highest - mean(near) };
}
