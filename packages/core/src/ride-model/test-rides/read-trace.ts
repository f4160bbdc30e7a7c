import { mean } from '../../numeric/index.js';
import type { RideTrace } from '../ride-trace.js';

export function indexAt(column: Float64Array, value: number): number {
  const k = column.findIndex((one) => one >= value);
  return k < 0 ? column.length - 1 : k;
}
export function meanOf(values: Float64Array): number {
  return mean(values);
}
/** ∫ f dt by trapezoid over samples [from, to]. */
export function integral(timeS: Float64Array, f: (k: number) => number, from = 0, to = timeS.length - 1): number {
  let sum = 0;
  for (let k = from + 1; k <= to; k++) sum += ((f(k) + f(k - 1)) / 2) * (timeS[k]! - timeS[k - 1]!);
  return sum;
}
export function between(trace: RideTrace, column: keyof RideTrace, fromS: number, toS: number): Float64Array {
  return trace[column].subarray(indexAt(trace.timeS, fromS), indexAt(trace.timeS, toS));
}

/** Where in a second the k-th thing happens: each elsewhere, so that no logger's beat is met again and again. */
export const offBeat = (k: number): number => (0.37 + 0.618034 * k) % 1;
