import { solveSymmetric } from '../../numeric/index.js';

/** Lags, s, over which altitude is compared with itself: within them a road keeps its grade. */
const LAGS_S = [1, 2, 3, 4, 6, 8, 10, 12] as const;
const MIN_PAIRS = 60;
/** Of the climbing that a wander of this rate would make, what the smoothing over 50 m lets through; found by simulation (docs/methods.md). */
const LET_THROUGH = 0.7;
const LARGEST_HYSTERESIS_M = 6;
/** Seconds whose wander a hysteresis has to swallow. */
const SWALLOWED_S = 20;

/**
 * How fast an altitude wanders by itself, as the growth of its variance in m²/s: of the mean square change over a lag, the part that grows
 * with the lag (a road's own slope grows with its square, noise of single readings not at all). Satellites and air pressure wander so.
 * Shapes: equal lengths, times in s increasing, NaN where missing. 0 where nothing tells.
 */
export function altitudeWander(allS: Float64Array, allM: Float64Array): number {
  const [timeS, altitudeM] = thinned(allS, allM);
  const rows: { lag: number; square: number }[] = [];
  for (const lag of LAGS_S) {
    let sum = 0;
    let count = 0;
    let to = 0;
    let seconds = 0;
    for (let k = 0; k < timeS.length; k++) {
      while (to < timeS.length && timeS[to]! - timeS[k]! < lag - 1e-6) to++;
      if (to >= timeS.length) break;
      const step = timeS[to]! - timeS[k]!;
      if (step > 1.5 * lag) continue;
      sum += (altitudeM[to]! - altitudeM[k]!) ** 2;
      seconds += step;
      count++;
    }
    if (count >= MIN_PAIRS) rows.push({ lag: seconds / count, square: sum / count });
  }
  if (rows.length < 5) return 0;
  // Larger squares scatter more: each row counts by its own size.
  const normal = new Float64Array(9);
  const right = [0, 0, 0];
  for (const { lag, square } of rows) {
    const weight = 1 / (square + 1e-9) ** 2;
    const terms = [1, lag, lag ** 2];
    terms.forEach((x, i) => {
      right[i]! += weight * x * square;
      terms.forEach((z, j) => (normal[3 * i + j]! += weight * x * z));
    });
  }
  const fit = solveSymmetric(normal, right);
  return Math.max(0, fit?.[1] ?? 0);
}

/** More readings a second than this tell no more of lags of a second and longer. */
const THINNED_S = 0.24;
/** Times and altitudes that are known, no closer together than need be. */
function thinned(timeS: Float64Array, altitudeM: Float64Array): [Float64Array, Float64Array] {
  const times = new Float64Array(timeS.length);
  const altitudes = new Float64Array(timeS.length);
  let count = 0;
  let lastS = -Infinity;
  for (let k = 0; k < timeS.length; k++) {
    if (Number.isNaN(altitudeM[k]!) || timeS[k]! - lastS < THINNED_S) continue;
    lastS = timeS[k]!;
    times[count] = lastS;
    altitudes[count++] = altitudeM[k]!;
  }
  return [times.subarray(0, count), altitudes.subarray(0, count)];
}

/** Hysteresis under which a wander of this rate mostly disappears, m, and the climbing that it still makes in a time, m. */
export function wanderClimb(
  wander: number,
  seconds: number,
  leastHysteresisM: number,
): { readonly hysteresisM: number; readonly spuriousM: number } {
  const hysteresisM = Math.min(LARGEST_HYSTERESIS_M, Math.max(leastHysteresisM, 2 * Math.sqrt(wander * SWALLOWED_S)));
  return { hysteresisM, spuriousM: (LET_THROUGH * wander * seconds) / hysteresisM };
}

const LEVEL_WINDOW_S = 60;
/** Within so many standard deviations of what the wander alone makes of a minute, the road may be level. */
const LEVEL_SURE = 2.2;
/** Share of the ride on which the altitude changes no more than its wander would make it: only there does the wander look like climbing. */
export function levelShare(timeS: Float64Array, altitudeM: Float64Array, wander: number): number {
  const limit = LEVEL_SURE * Math.sqrt(wander * LEVEL_WINDOW_S);
  let [level, all, to] = [0, 0, 0];
  for (let k = 0; k < timeS.length; k++) {
    if (Number.isNaN(altitudeM[k]!)) continue;
    while (to < timeS.length && (timeS[to]! - timeS[k]! < LEVEL_WINDOW_S || Number.isNaN(altitudeM[to]!))) to++;
    if (to >= timeS.length) break;
    all++;
    if (Math.abs(altitudeM[to]! - altitudeM[k]!) < limit) level++;
  }
  return all > 0 ? level / all : 1;
}

/** The wander at the turning points of a climb, m: it is caught at its highest above and at its lowest below, or not. */
export function wanderAtSummits(wander: number, climbs: number): number {
  return Math.sqrt(2 * Math.max(1, climbs) * wander * SWALLOWED_S);
}
