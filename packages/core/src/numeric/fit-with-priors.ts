import { solveSymmetric } from './solve-symmetric.js';

export interface PriorFit {
  readonly estimate: Float64Array;
  /** Row-major p × p. */
  readonly covariance: Float64Array;
  /** Robust standard deviation of the residuals as they were given: 1 where their stated sizes were right. */
  readonly residualScale: number;
}

export interface FitWithPriorsInput {
  readonly priorMean: ArrayLike<number>;
  readonly priorSd: ArrayLike<number>;
  readonly residualCount: number;
  /** Fills `into` with residuals, each divided by the standard deviation it is thought to have. */
  readonly residuals: (parameters: Float64Array, into: Float64Array) => void;
  /** One of them counts for so many independent ones less: from the order of neighbours. At least 1. */
  readonly correlation?: (residuals: Float64Array) => number;
  /** A residual's scale is not taken smaller than this. */
  readonly leastScale?: number;
}

const MAX_STEPS = 40;
/** Beyond so many scales a residual pulls no harder (Huber). */
const HUBER = 2;

/**
 * Least squares with normal priors, robust against single bad residuals: the most probable parameters and the covariance about them.
 *
 * Method: Levenberg–Marquardt on the numeric Jacobian; Huber weights; the scale of the residuals is learned from them (a Student-t's
 * worth of four prior residuals at 1) and the information of the data is divided by its square and by `correlation`. Fails: never;
 * a parameter that the data do not touch keeps its prior.
 */
export function fitWithPriors({
  priorMean,
  priorSd,
  residualCount: n,
  residuals,
  correlation = () => 1,
  leastScale = 0.3,
}: FitWithPriorsInput): PriorFit {
  const p = priorMean.length;
  let x = Float64Array.from(priorMean);
  const r = new Float64Array(n);
  const shifted = new Float64Array(n);
  const jacobian = new Float64Array(n * p);
  residuals(x, r);
  let scale = Math.max(leastScale, robustScale(r));
  let inflation = 1;
  let damping = 1e-3;
  const costOf = (at: Float64Array, res: Float64Array): number => {
    let sum = 0;
    for (let i = 0; i < n; i++) {
      const z = Math.abs(res[i]! / scale);
      sum += z <= HUBER ? z * z : 2 * HUBER * z - HUBER * HUBER;
    }
    sum /= inflation;
    for (let j = 0; j < p; j++) sum += ((at[j]! - priorMean[j]!) / priorSd[j]!) ** 2;
    return sum;
  };
  let information = new Float64Array(p * p);
  for (let step = 0; step < MAX_STEPS; step++) {
    scale = Math.max(leastScale, robustScale(r));
    inflation = Math.max(1, correlation(r));
    fillJacobian(x, r, shifted, jacobian, priorSd, residuals);
    information = new Float64Array(p * p);
    const gradient = new Float64Array(p);
    for (let i = 0; i < n; i++) {
      const z = Math.abs(r[i]! / scale);
      const weight = (z <= HUBER ? 1 : HUBER / z) / (scale * scale * inflation);
      for (let a = 0; a < p; a++) {
        const ja = jacobian[i * p + a]! * weight;
        if (ja === 0) continue;
        gradient[a]! -= ja * r[i]!;
        for (let b = 0; b <= a; b++) information[a * p + b]! += ja * jacobian[i * p + b]!;
      }
    }
    for (let a = 0; a < p; a++) {
      for (let b = 0; b < a; b++) information[b * p + a] = information[a * p + b]!;
      information[a * p + a]! += 1 / priorSd[a]! ** 2;
      gradient[a]! -= (x[a]! - priorMean[a]!) / priorSd[a]! ** 2;
    }
    const before = costOf(x, r);
    let moved = 0;
    for (let attempt = 0; attempt < 8; attempt++) {
      const damped = information.slice();
      for (let a = 0; a < p; a++) damped[a * p + a]! *= 1 + damping;
      const by = solveSymmetric(damped, gradient);
      if (!by) break;
      const next = x.map((value, a) => value + Math.max(-2 * priorSd[a]!, Math.min(2 * priorSd[a]!, by[a]!)));
      residuals(next, shifted);
      if (costOf(next, shifted) <= before) {
        moved = next.reduce((most, value, a) => Math.max(most, Math.abs(value - x[a]!) / priorSd[a]!), 0);
        x = next;
        r.set(shifted);
        damping = Math.max(1e-9, damping / 5);
        break;
      }
      damping *= 8;
    }
    if (moved < 1e-5) break;
  }
  return { estimate: x, covariance: inverseOf(information, p), residualScale: scale };
}

function fillJacobian(
  x: Float64Array,
  at: Float64Array,
  shifted: Float64Array,
  jacobian: Float64Array,
  priorSd: ArrayLike<number>,
  residuals: FitWithPriorsInput['residuals'],
): void {
  const p = x.length;
  const moved = x.slice();
  for (let j = 0; j < p; j++) {
    const h = 1e-3 * priorSd[j]!;
    moved[j] = x[j]! + h;
    residuals(moved, shifted);
    moved[j] = x[j]!;
    for (let i = 0; i < at.length; i++) jacobian[i * p + j] = (shifted[i]! - at[i]!) / h;
  }
}

/** 1.4826 × the median size, with four residuals at 1 in mind. */
function robustScale(residuals: Float64Array): number {
  const n = residuals.length;
  if (n === 0) return 1;
  const sizes = residuals.map(Math.abs).sort();
  const mad = 1.4826 * (n % 2 ? sizes[n >> 1]! : (sizes[n / 2 - 1]! + sizes[n / 2]!) / 2);
  return Math.sqrt((n * mad * mad + 4) / (n + 4));
}

function inverseOf(matrix: Float64Array, p: number): Float64Array {
  const inverse = new Float64Array(p * p);
  for (let j = 0; j < p; j++) {
    const unit = new Float64Array(p);
    unit[j] = 1;
    const column = solveSymmetric(matrix, unit);
    if (column) for (let i = 0; i < p; i++) inverse[i * p + j] = column[i]!;
  }
  return inverse;
}

/** Factor by which neighbours that move together make a mean less sure: (1 + ρ)/(1 − ρ) of the first lag, held to 1 … 12. */
export function neighbourInflation(residuals: ArrayLike<number>): number {
  const n = residuals.length;
  if (n < 8) return 1;
  let [square, product] = [0, 0];
  for (let i = 0; i < n; i++) {
    square += residuals[i]! ** 2;
    if (i > 0) product += residuals[i]! * residuals[i - 1]!;
  }
  const rho = square > 0 ? Math.min(0.85, Math.max(0, product / square)) : 0;
  return (1 + rho) / (1 - rho);
}
