/**
 * Sum of amounts that are known to `places` decimals (grams, cents), exact whatever their order and number.
 * Units: those of the values. Method: whole numbers of the last place.
 */
export function exactSum(values: readonly number[], places = 3): number {
  const scale = 10 ** places;
  return values.reduce((sum, value) => sum + Math.round(value * scale), 0) / scale;
}
