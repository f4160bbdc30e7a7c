/** Least and most of some values; ±∞ the wrong way round for none. */
export function extent(values: readonly number[]): [number, number] {
  return values.reduce<[number, number]>(
    ([least, most], value) => [Math.min(least, value), Math.max(most, value)],
    [Infinity, -Infinity],
  );
}
