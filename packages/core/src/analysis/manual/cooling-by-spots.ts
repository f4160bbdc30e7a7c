/** Half-life of a cooling with its uncertainty, s. */
export interface Cooling {
  readonly halfLifeS: number;
  readonly standardUncertaintyS: number;
}

interface Spot {
  /** s after the first of them. */
  readonly elapsedS: number;
  readonly valueC: number;
}

/** Half-lives that are tried: from a twentieth of the time looked at to sixty times of it. */
const LEAST_SHARE = 0.05;
const MOST_SHARE = 60;
const STEPS = 240;

/**
 * Half-life of T = T_air + A·2^(−t/h) from a few readings, the air's own thermometer being off as well.
 *
 * Method: for each h of a grid the best A and air by weighted least squares; the misfits as the logarithm of a likelihood, every
 * order of magnitude of h as likely beforehand; the median, and a quarter of the width from 2.5 to 97.5 % as standard uncertainty.
 * No logarithm of a rise is taken: near the air its scatter is lopsided, and leaving those readings out is too.
 * Shapes: `spots` in order of time, three or more; standard uncertainties in K.
 */
export function coolingBySpots(spots: readonly Spot[], airC: number, spotK: number, airK: number): Cooling | undefined {
  const lastS = spots.at(-1)?.elapsedS ?? 0;
  if (spots.length < 3 || !(lastS > 0)) return undefined;
  const stepFactor = (MOST_SHARE / LEAST_SHARE) ** (1 / STEPS);
  const grid = Array.from({ length: STEPS + 1 }, (_, k) => lastS * LEAST_SHARE * stepFactor ** k);
  const misfits = grid.map((halfLifeS) => misfitAt(spots, airC, halfLifeS, { spotK, airK }));
  const least = Math.min(...misfits);
  if (!Number.isFinite(least)) return undefined;
  const weights = misfits.map((misfit) => Math.exp(-(misfit - least) / 2));
  const whole = weights.reduce((sum, weight) => sum + weight, 0);
  const at = (share: number): number => {
    let sum = 0;
    for (const [k, weight] of weights.entries()) {
      const before = sum;
      sum += weight / whole;
      // Somewhere within this step of the grid, by its logarithm.
      if (sum >= share) return grid[k]! * stepFactor ** ((share - before) / (sum - before) - 0.5);
    }
    return grid.at(-1)!;
  };
  const [low, middle, high] = [at(0.025), at(0.5), at(0.975)];
  return { halfLifeS: middle, standardUncertaintyS: (high - low) / 4 };
}

/** Least χ² over the rise A ≥ 0 and the air's offset, for one half-life. */
function misfitAt(
  spots: readonly Spot[],
  airC: number,
  halfLifeS: number,
  { spotK, airK }: { readonly spotK: number; readonly airK: number },
): number {
  let [ff, f1, fy, sumY, yy] = [0, 0, 0, 0, 0];
  for (const { elapsedS, valueC } of spots) {
    const f = 2 ** (-elapsedS / halfLifeS);
    const y = valueC - airC;
    ff += f * f;
    f1 += f;
    fy += f * y;
    sumY += y;
    yy += y * y;
  }
  // The air's offset is held by its own thermometer.
  const held = spots.length + (spotK / airK) ** 2;
  const determinant = ff * held - f1 * f1;
  if (!(determinant > 0)) return Infinity;
  const rise = (fy * held - f1 * sumY) / determinant;
  const offset = (ff * sumY - f1 * fy) / determinant;
  if (!(rise > 0)) return Infinity;
  return (yy - rise * fy - offset * sumY) / spotK ** 2;
}
