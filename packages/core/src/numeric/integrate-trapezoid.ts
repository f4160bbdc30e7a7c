import { CoreError, requireAtLeast, requireSameLength } from '../errors/index.js';

/** Trapezoidal rule over irregular abscissae. Throws `length-mismatch`, `too-short` (< 2) or `not-increasing`. */
export function integrateTrapezoid(x: ArrayLike<number>, y: ArrayLike<number>): number {
  requireSameLength({ x, y });
  requireAtLeast(x.length, 2, 'integration');
  let total = 0;
  for (let k = 1; k < x.length; k++) {
    const step = x[k]! - x[k - 1]!;
    if (!(step > 0)) throw new CoreError('not-increasing', `abscissa does not increase at sample ${k}`);
    total += (step * (y[k]! + y[k - 1]!)) / 2;
  }
  return total;
}
