import { requireSameLength } from '../errors/index.js';

/** Samples that have a value, in order. */
export interface PresentSamples {
  /** Where they stand in the log. */
  readonly at: Int32Array;
  readonly x: Float64Array;
  readonly y: Float64Array;
}

/**
 * The samples `from` … `to` (both included, as far as there are any) whose y is a number.
 * Shapes of `x` and `y`: equal lengths; NaN in y is a missing sample.
 */
export function presentSamples(x: Float64Array, y: Float64Array, from: number, to: number): PresentSamples {
  requireSameLength({ x, y });
  const length = Math.max(0, Math.min(to + 1, y.length) - from);
  const at = new Int32Array(length);
  const present = { x: new Float64Array(length), y: new Float64Array(length) };
  let count = 0;
  for (let k = from; k < from + length; k++) {
    const value = y[k]!;
    if (Number.isNaN(value)) continue;
    at[count] = k;
    present.x[count] = x[k]!;
    present.y[count++] = value;
  }
  return { at: at.subarray(0, count), x: present.x.subarray(0, count), y: present.y.subarray(0, count) };
}
