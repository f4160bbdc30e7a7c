import { CoreError } from '../errors/index.js';

/**
 * Root of a continuous function between two points of opposite sign, by Brent's method.
 *
 * Fails:  throws `no-sign-change` when f(lower) and f(upper) have the same sign.
 * Source: Brent (1973), Algorithms for Minimization without Derivatives, ch. 4.
 */
export function findRoot(f: (x: number) => number, lower: number, upper: number, tolerance = 1e-13): number {
  let a = lower;
  let b = upper;
  let fa = f(a);
  let fb = f(b);
  if (fa === 0) return a;
  if (fb === 0) return b;
  if (fa > 0 === fb > 0) throw new CoreError('no-sign-change', `no sign change between ${lower} and ${upper}`);
  let c = a;
  let fc = fa;
  let step = b - a;
  let previousStep = step;
  for (let iteration = 0; iteration < 200; iteration++) {
    if (fb > 0 === fc > 0) {
      c = a;
      fc = fa;
      step = previousStep = b - a;
    }
    if (Math.abs(fc) < Math.abs(fb)) {
      [a, b, c] = [b, c, b];
      [fa, fb, fc] = [fb, fc, fb];
    }
    const limit = 2 * Number.EPSILON * Math.abs(b) + tolerance / 2;
    const half = (c - b) / 2;
    if (Math.abs(half) <= limit || fb === 0) return b;
    if (Math.abs(previousStep) >= limit && Math.abs(fa) > Math.abs(fb)) {
      const s = fb / fa;
      let p: number;
      let q: number;
      if (a === c) {
        p = 2 * half * s;
        q = 1 - s;
      } else {
        const r = fb / fc;
        const t = fa / fc;
        p = s * (2 * half * t * (t - r) - (b - a) * (r - 1));
        q = (t - 1) * (r - 1) * (s - 1);
      }
      if (p > 0) q = -q;
      p = Math.abs(p);
      if (2 * p < Math.min(3 * half * q - Math.abs(limit * q), Math.abs(previousStep * q))) {
        previousStep = step;
        step = p / q;
      } else {
        step = half;
        previousStep = half;
      }
    } else {
      step = half;
      previousStep = half;
    }
    a = b;
    fa = fb;
    b += Math.abs(step) > limit ? step : half > 0 ? limit : -limit;
    fb = f(b);
  }
  return b;
}
