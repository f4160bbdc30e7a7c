import { STANDARD_GRAVITY_MPS2 } from '../../units/index.js';

export interface Coast {
  readonly direction: 1 | -1;
  readonly timeS: readonly number[];
  readonly speedMps: readonly number[];
}
export interface CoastConstants {
  readonly totalMassKg: number;
  readonly airDensity: number;
  readonly rotatingMassFactor: number;
}
/** What is sought, in this order; those that the coasts cannot tell are held at 0. */
export const COAST_PARAMETERS = ['cda', 'crr', 'slope', 'wind'] as const;
export type CoastParameter = (typeof COAST_PARAMETERS)[number];

export interface CoastFit {
  readonly values: Readonly<Record<CoastParameter, number>>;
  /** Of the free parameters, in their order; row-major. */
  readonly free: readonly CoastParameter[];
  readonly covariance: readonly (readonly number[])[];
  /** The same with whole coasts as the units: what gusts do to one coast they do to all of its samples. Undefined with too few coasts. */
  readonly betweenCoasts: readonly (readonly number[])[] | undefined;
  readonly residuals: readonly number[];
  readonly samples: number;
}

const START = { cda: 0.6, crr: 0.008, slope: 0, wind: 0 };
const STEPS = { cda: 1e-3, crr: 1e-5, slope: 1e-5, wind: 1e-2 };
const MAX_ROUNDS = 40;
const CONVERGED = 1e-9;

/**
 * Drag area, rolling resistance, slope and wind from coasts, all at once.
 *
 * Method: least squares of the integrated equation of motion
 * `m·k·dv/dt = −½ρ·CdA·(v+dw)|v+dw| − m·g·(Crr·cosθ + d·sinθ)`, d = ±1, with each coast's start speed as a further
 * unknown; Levenberg–Marquardt with numeric derivatives, Runge–Kutta of fourth order between the samples. Never finite
 * differences of a noisy speed. Covariance: σ²(JᵀJ)⁻¹ of the free parameters.
 * Undefined when the normal equations cannot be solved.
 */
export function fitCoasts(
  coasts: readonly Coast[],
  constants: CoastConstants,
  free: readonly CoastParameter[],
): CoastFit | undefined {
  let values: Record<CoastParameter, number> = { ...START };
  let starts = coasts.map(({ speedMps }) => speedMps[0]!);
  const count = free.length + coasts.length;
  let current = residualsOf(coasts, constants, values, starts);
  let damping = 1e-3;
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const jacobian = derivatives(coasts, constants, values, starts, free, current);
    const [normal, gradient] = normalEquations(jacobian, current, count);
    let isBetter = false;
    for (let attempt = 0; attempt < 8 && !isBetter; attempt++) {
      const step = solveArrow(normal, gradient, free.length, damping)?.step;
      if (!step) return undefined;
      const next = { ...values };
      free.forEach((name, k) => (next[name] -= step[k]!));
      const nextStarts = starts.map((start, k) => start - step[free.length + k]!);
      const trial = residualsOf(coasts, constants, next, nextStarts);
      if (sumOfSquares(trial) < sumOfSquares(current)) {
        const gained = 1 - sumOfSquares(trial) / sumOfSquares(current);
        [values, starts, current] = [next, nextStarts, trial];
        damping = Math.max(1e-9, damping / 5);
        isBetter = true;
        if (gained < CONVERGED) round = MAX_ROUNDS;
      } else damping *= 6;
    }
    if (!isBetter) break;
  }
  const jacobian = derivatives(coasts, constants, values, starts, free, current);
  const [normal] = normalEquations(jacobian, current, count);
  const inverse = solveArrow(normal, new Array<number>(count).fill(0), free.length, 0)?.covariance;
  if (!inverse) return undefined;
  const variance = sumOfSquares(current) / Math.max(1, current.length - count);
  return {
    values,
    free,
    covariance: free.map((_, i) => free.map((__, j) => variance * inverse[i]![j]!)),
    betweenCoasts: covarianceBetween(coasts, jacobian, current, inverse, free.length),
    residuals: current,
    samples: current.length,
  };
}

/**
 * Sandwich covariance over coasts: H⁻¹·(Σ sᵢsᵢᵀ)·H⁻¹·n/(n − p), sᵢ the gradient of a coast (Liang & Zeger 1986, with the small-sample factor).
 * A coast's own start speed takes nothing of it: at the minimum its residuals are at right angles to that.
 */
function covarianceBetween(
  coasts: readonly Coast[],
  columns: readonly Column[],
  residuals: readonly number[],
  inverse: readonly (readonly number[])[],
  freeCount: number,
): number[][] | undefined {
  const n = coasts.length;
  if (n <= freeCount) return undefined;
  const middle = Array.from({ length: freeCount }, () => new Array<number>(freeCount).fill(0));
  let from = 0;
  for (const { timeS } of coasts) {
    const to = from + timeS.length;
    const gradient = columns.slice(0, freeCount).map(({ values }) => {
      let sum = 0;
      for (let k = from; k < to; k++) sum += values[k]! * residuals[k]!;
      return sum;
    });
    gradient.forEach((a, i) => gradient.forEach((b, j) => (middle[i]![j]! += a * b)));
    from = to;
  }
  const times = (a: readonly (readonly number[])[], b: readonly (readonly number[])[]): number[][] =>
    a.map((row) => b[0]!.map((_, j) => row.reduce((sum, value, k) => sum + value * b[k]![j]!, 0)));
  const h = inverse.slice(0, freeCount).map((row) => row.slice(0, freeCount));
  return times(times(h, middle), h).map((row) => row.map((value) => (value * n) / (n - freeCount)));
}

function acceleration(
  v: number,
  direction: 1 | -1,
  p: Readonly<Record<CoastParameter, number>>,
  c: CoastConstants,
): number {
  const air = v + direction * p.wind;
  const drag = (0.5 * c.airDensity * p.cda * air * Math.abs(air)) / c.totalMassKg;
  const cosine = 1 / Math.sqrt(1 + p.slope * p.slope);
  return -(drag + STANDARD_GRAVITY_MPS2 * (p.crr + direction * p.slope) * cosine) / c.rotatingMassFactor;
}

function residualsOf(
  coasts: readonly Coast[],
  c: CoastConstants,
  p: Readonly<Record<CoastParameter, number>>,
  starts: readonly number[],
): number[] {
  return coasts.flatMap((coast, k) => residualsOfOne(coast, c, p, starts[k]!));
}

/** Model − measured, from a start speed on. */
function residualsOfOne(
  { direction, timeS, speedMps }: Coast,
  c: CoastConstants,
  p: Readonly<Record<CoastParameter, number>>,
  start: number,
): number[] {
  let v = start;
  const residuals = [v - speedMps[0]!];
  for (let j = 1; j < timeS.length; j++) {
    const h = timeS[j]! - timeS[j - 1]!;
    const k1 = acceleration(v, direction, p, c);
    const k2 = acceleration(v + (h * k1) / 2, direction, p, c);
    const k3 = acceleration(v + (h * k2) / 2, direction, p, c);
    const k4 = acceleration(v + h * k3, direction, p, c);
    v += (h * (k1 + 2 * k2 + 2 * k3 + k4)) / 6;
    residuals.push(v - speedMps[j]!);
  }
  return residuals;
}

/** A column of the Jacobian; outside its span it is zero: a coast's start speed moves no other coast. */
interface Column {
  readonly from: number;
  readonly values: readonly number[];
}

/** Columns: free parameters, then the start speed of each coast. */
function derivatives(
  coasts: readonly Coast[],
  c: CoastConstants,
  p: Readonly<Record<CoastParameter, number>>,
  starts: readonly number[],
  free: readonly CoastParameter[],
  base: readonly number[],
): Column[] {
  const columns: Column[] = free.map((name) => {
    const moved = residualsOf(coasts, c, { ...p, [name]: p[name] + STEPS[name] }, starts);
    return { from: 0, values: moved.map((value, k) => (value - base[k]!) / STEPS[name]) };
  });
  const h = 1e-3;
  let from = 0;
  coasts.forEach((coast, k) => {
    const at = from;
    const moved = residualsOfOne(coast, c, p, starts[k]! + h);
    columns.push({ from: at, values: moved.map((value, j) => (value - base[at + j]!) / h) });
    from += moved.length;
  });
  return columns;
}

function normalEquations(
  columns: readonly Column[],
  residuals: readonly number[],
  count: number,
): [number[][], number[]] {
  const normal = Array.from({ length: count }, () => new Array<number>(count).fill(0));
  columns.forEach((a, i) => {
    for (let j = i; j < count; j++) {
      const value = overlap(a, columns[j]!);
      normal[i]![j] = value;
      normal[j]![i] = value;
    }
  });
  return [normal, columns.map((column) => overlap(column, { from: 0, values: residuals }))];
}

function overlap(a: Column, b: Column): number {
  const from = Math.max(a.from, b.from);
  const to = Math.min(a.from + a.values.length, b.from + b.values.length);
  let sum = 0;
  for (let k = from; k < to; k++) sum += a.values[k - a.from]! * b.values[k - b.from]!;
  return sum;
}

const sumOfSquares = (values: readonly number[]): number => values.reduce((sum, value) => sum + value * value, 0);

/**
 * Step of the normal equations, and the inverse of their part for the free parameters. No start speed meets another, so
 * their block is diagonal and is eliminated first (Schur complement): the work grows with the coasts, not with their cube.
 */
function solveArrow(
  normal: readonly (readonly number[])[],
  gradient: readonly number[],
  freeCount: number,
  damping: number,
): { step: number[]; covariance: number[][] } | undefined {
  const damped = (i: number): number => normal[i]![i]! * (1 + damping);
  const schur = Array.from({ length: freeCount }, (_, i) =>
    Array.from({ length: freeCount }, (__, j) => (i === j ? damped(i) : normal[i]![j]!)),
  );
  const right = gradient.slice(0, freeCount);
  for (let k = freeCount; k < gradient.length; k++) {
    const d = damped(k);
    if (!(d > 0)) return undefined;
    for (let i = 0; i < freeCount; i++) {
      const share = normal[i]![k]! / d;
      right[i]! -= share * gradient[k]!;
      for (let j = 0; j < freeCount; j++) schur[i]![j]! -= share * normal[k]![j]!;
    }
  }
  const covariance = invert(schur);
  if (!covariance) return undefined;
  const step = covariance.map((row) => row.reduce((sum, value, k) => sum + value * right[k]!, 0));
  for (let k = freeCount; k < gradient.length; k++) {
    let value = gradient[k]!;
    for (let i = 0; i < freeCount; i++) value -= normal[k]![i]! * step[i]!;
    step.push(value / damped(k));
  }
  return { step, covariance };
}

/** Gauss–Jordan with scaling: the parameters differ by orders of magnitude. */
function invert(matrix: readonly (readonly number[])[]): number[][] | undefined {
  const n = matrix.length;
  const scale = matrix.map((row, i) => 1 / Math.sqrt(Math.max(row[i]!, 1e-300)));
  const a = matrix.map((row, i) => [
    ...row.map((value, j) => value * scale[i]! * scale[j]!),
    ...Array.from({ length: n }, (_, j) => (i === j ? 1 : 0)),
  ]);
  for (let i = 0; i < n; i++) {
    let pivot = i;
    for (let r = i + 1; r < n; r++) if (Math.abs(a[r]![i]!) > Math.abs(a[pivot]![i]!)) pivot = r;
    if (Math.abs(a[pivot]![i]!) < 1e-12) return undefined;
    [a[i], a[pivot]] = [a[pivot]!, a[i]!];
    const divisor = a[i]![i]!;
    a[i] = a[i]!.map((value) => value / divisor);
    for (let r = 0; r < n; r++) {
      if (r === i) continue;
      const factor = a[r]![i]!;
      a[r] = a[r]!.map((value, j) => value - factor * a[i]![j]!);
    }
  }
  return a.map((row, i) => row.slice(n).map((value, j) => value * scale[i]! * scale[j]!));
}
