type Order = 'ascend' | 'descend' | null | undefined;
type Known = number | string;

/** Sorts a table by a key; rows without one come last, upwards and downwards alike. */
export function unknownLast<Row>(keyOf: (row: Row) => Known | null | undefined) {
  return (a: Row, b: Row, order?: Order): number => {
    const [x, y] = [keyOf(a) ?? null, keyOf(b) ?? null];
    if (x === null || y === null) return (Number(x === null) - Number(y === null)) * (order === 'descend' ? -1 : 1);
    return typeof x === 'number' && typeof y === 'number' ? x - y : String(x).localeCompare(String(y));
  };
}
