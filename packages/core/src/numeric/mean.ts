/** Arithmetic mean, in the unit of the values; NaN for none. */
export function mean(values: readonly number[] | Float64Array): number {
  let sum = 0;
  for (let k = 0; k < values.length; k++) sum += values[k]!;
  return sum / values.length;
}
