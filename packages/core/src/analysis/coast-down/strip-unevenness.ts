import { STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import type { Coast } from './fit-coasts.js';

/** What the residuals tell of the strip (or of gusts): a height that the fit does not know, and the way over which it is spread. */
export interface Unevenness {
  /** m, from top to bottom, as far as it stands out of the noise. */
  readonly heightM: number;
  readonly lengthM: number;
  readonly meanSpeedMps: number;
}

const BINS = 12;
/** The extremes of a dozen means lie so many standard errors apart by chance. */
const CHANCE_SPAN = 3.3;
/** The fit bends to a pattern: what is left of it in the residuals is less than what is there. */
const TAKEN_UP = 2;

/**
 * Residuals of coasts by their place along the way, as a height: δh = v·δv/g. A strip with humps leaves the same pattern in every coast
 * of a direction, gusts one of their own in each; neither is noise of a sensor, and no number of samples takes it out.
 * `residuals` model − measured, in the order of the coasts' samples, m/s.
 */
export function stripUnevenness(coasts: readonly Coast[], residuals: readonly number[]): Unevenness {
  const patterns = new Map<number, { sum: number[]; squares: number[]; count: number[] }>();
  let [passed, lengths, ways, seconds] = [0, 0, 0, 0];
  for (const { direction, timeS, speedMps } of coasts) {
    const way = [0];
    for (let k = 1; k < timeS.length; k++)
      way.push(way[k - 1]! + ((speedMps[k]! + speedMps[k - 1]!) / 2) * (timeS[k]! - timeS[k - 1]!));
    const length = way.at(-1)!;
    const pattern = patterns.get(direction) ?? {
      sum: new Array<number>(BINS).fill(0),
      squares: new Array<number>(BINS).fill(0),
      count: new Array<number>(BINS).fill(0),
    };
    patterns.set(direction, pattern);
    // In bins of a coast: its noise is told from within them.
    timeS.forEach((_, k) => {
      const bin = Math.min(BINS - 1, Math.floor((BINS * way[k]!) / Math.max(1e-9, length)));
      const height = (speedMps[k]! * residuals[passed + k]!) / STANDARD_GRAVITY_MPS2;
      pattern.sum[bin]! += height;
      pattern.squares[bin]! += height ** 2;
      pattern.count[bin]!++;
    });
    passed += timeS.length;
    lengths += length;
    ways += length;
    seconds += timeS.at(-1)! - timeS[0]!;
  }
  let heightM = 0;
  for (const { sum, squares, count } of patterns.values()) {
    const means = sum.map((s, k) => s / Math.max(1, count[k]!));
    const errors = means.map((m, k) =>
      Math.sqrt(Math.max(0, squares[k]! / Math.max(1, count[k]!) - m ** 2) / Math.max(1, count[k]!)),
    );
    const noise = (CHANCE_SPAN * Math.hypot(...errors)) / Math.sqrt(BINS);
    const span = Math.max(...means) - Math.min(...means);
    heightM = Math.max(heightM, Math.sqrt(Math.max(0, span ** 2 - noise ** 2)));
  }
  return {
    heightM: TAKEN_UP * Math.max(0, heightM),
    lengthM: lengths / coasts.length,
    meanSpeedMps: ways / Math.max(1e-9, seconds),
  };
}
