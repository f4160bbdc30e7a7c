export interface Ramp {
  /** Where it begins, s, and its standard error. */
  readonly startS: number;
  readonly startErrorS: number;
  /** From there to its full height, s, and its standard error. */
  readonly lengthS: number;
  readonly lengthErrorS: number;
}

const STEP_S = 0.05;
const LENGTHS_S = [0.05, 0.1, 0.15, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.85, 1, 1.2, 1.4, 1.7, 2, 2.5, 3];
const LEAST_POINTS = 20;

/**
 * The ramp that a push rises by: nought before, then straight up, then a straight line that may fall; where it begins and how long it rises.
 *
 * Shapes: `timeS` increasing, `values` equally long, some 20 points or more about one rise. Units: s; values in any.
 * Method: least squares over a grid of beginnings (0.05 s) and lengths, height and later slope by linear least squares at each, a parabola
 * through the best three; standard errors are the reach of all that fit as well but for one standard deviation, the points counted as
 * many as their residuals are independent (lag-one correlation).
 * Fails: undefined where nothing rises.
 */
export function fitRamp(
  timeS: readonly number[],
  values: readonly number[],
  fromS: number,
  toS: number,
): Ramp | undefined {
  if (timeS.length < LEAST_POINTS) return undefined;
  const tried: { startS: number; lengthS: number; rss: number }[] = [];
  for (let startS = fromS; startS <= toS; startS += STEP_S)
    for (const lengthS of LENGTHS_S) {
      const rss = residual(timeS, values, startS, lengthS)?.rss;
      if (rss !== undefined) tried.push({ startS, lengthS, rss });
    }
  if (tried.length === 0) return undefined;
  const best = tried.reduce((a, b) => (b.rss < a.rss ? b : a));
  const { startS, lengthS } = best;
  const { height, slope } = residual(timeS, values, startS, lengthS)!;
  const errors = timeS.map(
    (t, k) => values[k]! - height * riseAt(t - startS, lengthS) - slope * laterAt(t - startS, lengthS),
  );
  const independent = independentOf(errors);
  const alike = tried.filter(({ rss }) => rss <= best.rss * (1 + 1 / Math.max(1, independent - 4)));
  const reach = (of: (one: (typeof tried)[number]) => number): number => {
    const all = alike.map(of);
    return (Math.max(...all) - Math.min(...all)) / 2;
  };
  const weights = alike.map(({ rss }) => Math.exp(-(independent * (rss / best.rss - 1)) / 2));
  const total = weights.reduce((a, b) => a + b, 0);
  const middle = (of: (one: (typeof tried)[number]) => number): number =>
    alike.reduce((sum, one, k) => sum + weights[k]! * of(one), 0) / total;
  return {
    startS: middle(({ startS }) => startS),
    startErrorS: Math.max(
      STEP_S / Math.sqrt(12),
      reach(({ startS }) => startS),
    ),
    lengthS: middle(({ lengthS }) => lengthS),
    lengthErrorS: Math.max(
      STEP_S / Math.sqrt(12),
      reach(({ lengthS }) => lengthS),
    ),
  };
}

interface Fit {
  readonly rss: number;
  readonly height: number;
  readonly slope: number;
}

/** Height and later slope that fit best, written as plain loops: every beginning is tried with every length. */
function residual(
  timeS: readonly number[],
  values: readonly number[],
  startS: number,
  lengthS: number,
): Fit | undefined {
  let [aa, ab, bb, ay, by] = [0, 0, 0, 0, 0];
  for (let k = 0; k < timeS.length; k++) {
    const a = riseAt(timeS[k]! - startS, lengthS);
    const b = laterAt(timeS[k]! - startS, lengthS);
    aa += a * a;
    ab += a * b;
    bb += b * b;
    ay += a * values[k]!;
    by += b * values[k]!;
  }
  const determinant = aa * bb - ab * ab;
  if (!(determinant > 1e-9)) return undefined;
  const [height, slope] = [(ay * bb - by * ab) / determinant, (by * aa - ay * ab) / determinant];
  if (!(height > 0)) return undefined;
  let rss = 0;
  for (let k = 0; k < timeS.length; k++) {
    const one =
      values[k]! - height * riseAt(timeS[k]! - startS, lengthS) - slope * laterAt(timeS[k]! - startS, lengthS);
    rss += one * one;
  }
  return { rss, height, slope };
}

/** Of the full height, so long after the beginning. */
function riseAt(sinceS: number, lengthS: number): number {
  return sinceS <= 0 ? 0 : sinceS >= lengthS ? 1 : sinceS / lengthS;
}

/** How long after its end, s. */
function laterAt(sinceS: number, lengthS: number): number {
  return sinceS > lengthS ? sinceS - lengthS : 0;
}

function independentOf(errors: readonly number[]): number {
  let [lagged, own] = [0, 0];
  errors.forEach((one, k) => {
    own += one * one;
    if (k > 0) lagged += one * errors[k - 1]!;
  });
  const r = Math.min(0.95, Math.max(0, own > 0 ? lagged / own : 0));
  return (errors.length * (1 - r)) / (1 + r);
}
