export type Known = number | string;

/** Sorts rows by a key; those without one come last, upwards and downwards alike. */
export function unknownLast<Row>(keyOf: (row: Row) => Known | null | undefined, direction: 'down' | 'up') {
  const sign = direction === 'up' ? 1 : -1;
  return (a: Row, b: Row): number => {
    const [x, y] = [keyOf(a) ?? null, keyOf(b) ?? null];
    if (x === null || y === null) return Number(x === null) - Number(y === null);
    return sign * (typeof x === 'number' && typeof y === 'number' ? x - y : String(x).localeCompare(String(y)));
  };
}
